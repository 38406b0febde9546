import "../theme.css";

/** A colour of the theme by its name, for what is drawn without style sheets. */
export const token = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim() || "white";
