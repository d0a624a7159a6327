/** Text as it must be written into a page, in elements and in quoted attributes. */
export const escapeHtml = (text: string): string => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('"', '&quot;');
