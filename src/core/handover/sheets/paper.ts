/** The papers that sheets are laid out on. Lengths in millimetres. */

/** ISO 216, upright; the last has the proportions of a screen. */
export const PAPERS = { A4: [210, 297], A3: [297, 420], A2: [420, 594], A1: [594, 841], screen: [180, 320] } as const;
/** A key of {@link PAPERS}. */
export type Paper = keyof typeof PAPERS;
/** Papers that sheets can be laid out on. */
export const PAPER_NAMES = Object.keys(PAPERS) as [Paper, ...Paper[]];

/** What a person chooses of a sheet, with what its title block says. */
export interface SheetOptions {
  paper: Paper;
  /** Landscape. */
  across: boolean;
  columns: number;
  /** Millimetres that a render is wide on a contact sheet, instead of the columns. */
  renderWidth?: number | undefined;
  title: string;
  /** Beside the title: revision, date. */
  facts: string;
}

/** Room of a page for what is on it. */
export interface PageRoom {
  width: number;
  height: number;
  margin: number;
  /** Where the room below the title block begins, and its height. */
  top: number;
  room: number;
}

const MARGIN = 12;
/** Height of the title block. */
const TITLE = 16;

/** The room that a paper has. */
export function roomOf({ paper, across }: Pick<SheetOptions, 'paper' | 'across'>): PageRoom {
  const [short, long] = PAPERS[paper];
  const [width, height] = across ? [long, short] : [short, long];
  return { width, height, margin: MARGIN, top: MARGIN + TITLE, room: height - 2 * MARGIN - TITLE };
}
