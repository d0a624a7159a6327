/** Whether WebGL is computed on the processor here, as in a browser without a graphics card. */

/** What such a renderer calls itself: general-purpose rasterizers of the common browsers and systems. */
const SOFTWARE = /swiftshader|llvmpipe|softpipe|software|basic render/i;

let known: boolean | undefined;

/** True where drawing costs as much as computing: the viewport then leaves out what costs most and shows least. */
export function isSoftwareGl(): boolean {
  if (known !== undefined) return known;
  const context = document.createElement('canvas').getContext('webgl2');
  const info = context?.getExtension('WEBGL_debug_renderer_info');
  known = info ? SOFTWARE.test(String(context!.getParameter(info.UNMASKED_RENDERER_WEBGL))) : false;
  context?.getExtension('WEBGL_lose_context')?.loseContext();
  return known;
}
