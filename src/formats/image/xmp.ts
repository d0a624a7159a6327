/**
 * What a file says of how it was made, as an XMP packet (ISO 16684-1, 7) of one length, so that it can be written anew in place.
 * The frame's words are put in when a file is packed: until then one file serves all frames of equal pixels.
 */

/** Bytes of every packet. */
export const XMP_BYTES = 2048;

/** How a render was made. Names are as people gave them. */
export interface RenderFacts {
  project: string;
  set: string;
  shot: string;
  view: string;
  variant?: string;
  revision: string;
  /** Content hash of the model. */
  model: string;
  frame: number;
  pass: string;
  identity: string;
  /** Samples a pixel that were taken. */
  samples?: number;
  /** Where the sun stood and when, as people read it. */
  sun?: string;
}

/** What every packet begins with, by which it is found. */
export const XMP_BEGIN = '<?xpacket begin="\uFEFF" id="W5M0MpCehiHzreSzNTczkc9d"?>';
const END = '<?xpacket end="w"?>';
/** Namespace of {@link RenderFacts}: a name, and no address. */
const NAMESPACE = 'urn:cold-easel:render';
/** Letters of a name where all names at their length do not fit. */
const SHORT_NAME = 32;

// What XML has no place for at all goes (XML 1.0, production 2).
const inXml = (text: string): string => text.replace(/\p{Cc}/gu, ' ').replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
const shortened = (text: string): string => ([...text].length > SHORT_NAME ? `${[...text].slice(0, SHORT_NAME - 1).join('')}…` : text);

function description(maker: string, facts: RenderFacts | undefined, name: (text: string) => string): string {
  const { identity, model, ...rest } = facts ?? {};
  const told = Object.entries(rest).flatMap(([key, value]) => (value === undefined ? [] : [[`render:${key}`, name(String(value))]]));
  const attributes = [
    ['xmp:CreatorTool', maker],
    ...(identity === undefined ? [] : [['dc:identifier', identity]]),
    ...(model === undefined ? [] : [['dc:source', `sha256:${model}`]]),
    ...told,
  ].map(([key, value]) => ` ${key}="${inXml(value!)}"`);
  const spaces = `xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:render="${NAMESPACE}"`;
  return `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" ${spaces}${attributes.join('')}/></rdf:RDF></x:xmpmeta>`;
}

/** The program that a packet names. */
export function makerIn(packet: string): string {
  const [, name = ''] = /xmp:CreatorTool="([^"]*)"/.exec(packet) ?? [];
  return name.replace(/&#(\d+);/g, (_, code: string) => String.fromCharCode(Number(code)));
}

/** A packet of {@link XMP_BYTES}, in UTF-8. Where names are too long for it they are shortened. @param maker program that made the file. */
export function xmpPacket(maker: string, facts?: RenderFacts): Buffer {
  const room = XMP_BYTES - Buffer.byteLength(XMP_BEGIN) - END.length;
  const whole = description(maker, facts, (text) => text);
  const text = Buffer.byteLength(whole) <= room ? whole : description(maker, facts, shortened);
  const spare = room - Buffer.byteLength(text);
  if (spare < 0) throw new Error(`What a file says of itself takes ${-spare} bytes more than there is room for.`);
  return Buffer.from(`${XMP_BEGIN}${text}${' '.repeat(spare)}${END}`);
}
