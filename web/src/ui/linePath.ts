/** Points as the path of an SVG, to a tenth; nothing for no points. */
export const linePath = (points: [number, number][], closed = true) => (points.length > 0 ? `M${points.map(([x, y]) => `${x.toFixed(1)} ${y.toFixed(1)}`).join("L")}${closed ? "Z" : ""}` : "");
