/** Tables of what pages say. Each feature has its own beside it, so that it can be read as a whole and translated. */

/** One text, or how one is made of what it tells of. */
export type Wording = string | ((...parts: never[]) => string);

/** Texts of one kind by a name for each. */
export type WordTable = Readonly<Record<string, Wording>>;
