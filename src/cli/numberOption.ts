import { InvalidArgumentError, Option } from 'commander';

/** An option that takes a number. @param name with two dashes. @param min least and @param max greatest that it takes. */
export function numberOption(name: string, what: string, min: number, max: number): Option {
  return new Option(`${name} <number>`, `${what}, ${min} to ${max}`).argParser((text) => {
    const value = text.trim() === '' ? NaN : Number(text);
    if (!(value >= min && value <= max)) throw new InvalidArgumentError(`Give a number from ${min} to ${max}.`);
    return value;
  });
}
