let known: boolean | null = null;

/**
 * Whether 3D is drawn without a graphics card (a remote desktop, a virtual machine): smoothing of edges is left off
 * there, it would cost a second a picture.
 */
export function drawsInSoftware(): boolean {
  if (known === null) {
    const gl = document.createElement('canvas').getContext('webgl2');
    const info = gl?.getExtension('WEBGL_debug_renderer_info');
    known = Boolean(
      gl &&
      info &&
      /swiftshader|llvmpipe|software|basic render/i.test(String(gl.getParameter(info.UNMASKED_RENDERER_WEBGL))),
    );
    gl?.getExtension('WEBGL_lose_context')?.loseContext();
  }
  return known;
}
