/** A frame as it lies in the loop: the last frame itself stays, others begin anew after it. */
export function inLoop(frame: number, frames: number): number {
  return frame === frames ? frames : ((frame % frames) + frames) % frames;
}
