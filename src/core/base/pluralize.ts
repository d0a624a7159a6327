/** A number with its noun: "1 shot", "2 shots", "12,500 frames". */
export const pluralize = (count: number, one: string, many = `${one}s`): string => `${count.toLocaleString('en')} ${count === 1 ? one : many}`;
