const format = new Intl.ListFormat('en-GB');

/** Words in a row: "A1, A2 and A3". */
export const listed = (words: readonly string[]): string => format.format(words);
