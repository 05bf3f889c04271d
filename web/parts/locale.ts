/** Dates and times are written as this browser writes them; figures have one format everywhere, with a point. */
export const LOCALE: string | undefined = typeof navigator === 'undefined' ? undefined : navigator.language;
