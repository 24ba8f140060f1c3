const SOFTWARE = /swiftshader|llvmpipe|software|basic render/i;

/** Whether pictures are drawn by the processor, for want of a graphics card. */
export function drawsInSoftware(gl: WebGLRenderingContext | WebGL2RenderingContext): boolean {
  const info = gl.getExtension("WEBGL_debug_renderer_info");
  const name = gl.getParameter(info ? info.UNMASKED_RENDERER_WEBGL : gl.RENDERER) as unknown;
  return SOFTWARE.test(String(name));
}
