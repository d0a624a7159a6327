/** Words in braces that stand for something else. */

/** A text with its tokens filled in. @param words what each token stands for. Throws an Error that names one that is not known. */
export function fillTokens(text: string, words: Readonly<Record<string, string>>): string {
  return text
    .replace(/\{([^}]*)\}/g, (_, token: string) => {
      if (!Object.hasOwn(words, token))
        throw new Error(
          `{${token}} is no token; use ${Object.keys(words)
            .map((t) => `{${t}}`)
            .join(', ')}.`,
        );
      return words[token]!;
    })
    .replace(/ +/g, ' ')
    .trim();
}
