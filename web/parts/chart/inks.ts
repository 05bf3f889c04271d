/** The type of charts: a canvas doesn't inherit it. */
export const FAMILY = 'Archivo Variable, Archivo, sans-serif';

/** An ink of the shop as the theme has it now, such as `--cyan`. */
export const inkNow = (name: string): string => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
