/** Vertex shader of what is drawn over a whole target; `at` goes from 0 to 1 both ways. */
export const WHOLE_SCREEN = /* glsl */ `
varying vec2 at;
void main() {
  at = uv;
  gl_Position = vec4(position.xy, 0.0, 1.0);
}`;
