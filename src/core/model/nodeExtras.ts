/** What the extras of a glTF node say of a part, as our files and those of earlier versions have it. */

/** Extras that are understood; any of them may be missing or of another type. */
export interface NodeExtras {
  renderVisible?: unknown;
  isContext?: unknown;
  /** What files of earlier versions say instead of the two above. */
  inPicture?: unknown;
  surroundings?: unknown;
}

/** Comes out in renders, unless the node says that it does not. */
export const isRenderVisible = (extras: NodeExtras): boolean => (extras.renderVisible ?? extras.inPicture) !== false;

/** Belongs to the context of the subject, where the node says so. */
export const isContextNode = (extras: NodeExtras): boolean => (extras.isContext ?? extras.surroundings) === true;
