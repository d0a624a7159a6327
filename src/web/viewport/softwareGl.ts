/** What draws in WebGL here: a graphics card, the processor, or nothing at all. */

/** What a renderer on the processor calls itself: general-purpose rasterizers of the common browsers and systems. */
const SOFTWARE = /swiftshader|llvmpipe|softpipe|software|basic render/i;

type Gl = 'card' | 'software' | 'none';

let known: Gl | undefined;

/** Found out once for the life of the page; 'none' where WebGL is switched off or missing. */
function glHere(): Gl {
  if (known !== undefined) return known;
  const context = document.createElement('canvas').getContext('webgl2');
  const info = context?.getExtension('WEBGL_debug_renderer_info');
  const isSoftware = info && SOFTWARE.test(String(context!.getParameter(info.UNMASKED_RENDERER_WEBGL)));
  known = !context ? 'none' : isSoftware ? 'software' : 'card';
  context?.getExtension('WEBGL_lose_context')?.loseContext();
  return known;
}

/** True where drawing costs as much as computing: the viewport then leaves out what costs most and shows least. */
export const isSoftwareGl = (): boolean => glHere() === 'software';

/** False where the viewport has nothing to draw with. */
export const hasGl = (): boolean => glHere() !== 'none';
