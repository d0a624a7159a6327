/** Whether a file's name has one of the endings, in any case. */
export const endsIn = (fileName: string, endings: string[]): boolean => endings.some((e) => fileName.toLowerCase().endsWith(`.${e}`));
