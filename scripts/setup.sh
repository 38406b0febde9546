# What both commands need: tools, packages, the browser bundle and the binary. Sourced; needs `fail` of postgres.sh.

# need PACKAGE COMMAND...: installs a Debian package when one of its commands is missing
need() {
  local package=$1 tool
  shift
  for tool in "$@"; do
    if ! command -v "$tool" >/dev/null 2>&1 && ! ls $tool >/dev/null 2>&1; then
      command -v apt-get >/dev/null 2>&1 || fail "$package is missing and this is not a Debian machine"
      [ "$(id -u)" = 0 ] || fail "$package is missing; install it as root: apt-get install $package"
      echo "installing $package ..." >&2
      [ -n "${apt_updated:-}" ] || apt-get update -qq >/dev/null || fail "the package lists cannot be read"
      apt_updated=1
      DEBIAN_FRONTEND=noninteractive apt-get install -y -qq "$package" >/dev/null || fail "$package could not be installed"
      return
    fi
  done
}

tools() {
  command -v cargo >/dev/null 2>&1 || fail "Rust is missing; install it with rustup"
  command -v npm >/dev/null 2>&1 || fail "Node.js with npm is missing"
  local free
  free=$(df -Pk . | awk 'NR == 2 { print $4 }')
  [ "$free" -gt 3000000 ] || fail "only $((free / 1024)) MB of disk are free; 3 GB are needed"
  need postgresql '/usr/lib/postgresql/*/bin/initdb'
}

bundle() {
  if [ ! -d web/node_modules ] || [ web/package-lock.json -nt web/node_modules/.package-lock.json ]; then
    (cd web && npm ci --no-audit --no-fund --loglevel=error) >&2 || fail "the web packages could not be installed"
  fi
  if [ ! -f web/dist/index.html ] || [ -n "$(find web/src web/public web/index.html web/package.json -newer web/dist/index.html -print -quit)" ]; then
    (cd web && npm run --silent build) >&2 || fail "the web bundle could not be built"
    # the bundle is embedded in the binary
    touch crates/server/src/assets.rs
  fi
}

binary() {
  SQLX_OFFLINE=true cargo build --release --locked -p ourlet >&2 || fail "the build failed"
}
