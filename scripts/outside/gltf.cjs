// Has the glTF validator look at files: neither an error nor a warning may be in them.
const { readFileSync } = require("node:fs");
const { basename } = require("node:path");
const validator = require("gltf-validator");

(async () => {
  let bad = 0;
  for (const file of process.argv.slice(2)) {
    const report = await validator.validateBytes(new Uint8Array(readFileSync(file)), { uri: basename(file) });
    const { numErrors, numWarnings, messages } = report.issues;
    console.log(`${basename(file)}: ${report.info.totalTriangleCount} triangles, ${numErrors} errors, ${numWarnings} warnings`);
    if (numErrors + numWarnings > 0) {
      bad++;
      console.log(messages.filter((m) => m.severity < 2).slice(0, 5));
    }
  }
  process.exit(bad > 0 || process.argv.length < 3 ? 1 : 0);
})();
