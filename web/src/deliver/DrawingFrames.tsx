import { useFollowedJobs, useJobs } from "../common/useJob";

/** Out of sight, but drawn in: a page of its own for each job that this window draws for. */
export function DrawingFrames() {
  useFollowedJobs();
  const drawing = useJobs((s) => s.drawing);
  return drawing.map((job) => (
    <iframe
      key={job}
      src={`/picture/${job}`}
      title="Pictures being drawn"
      aria-hidden
      tabIndex={-1}
      style={{
        position: "fixed",
        width: 1,
        height: 1,
        border: 0,
        opacity: 0,
        pointerEvents: "none",
      }}
    />
  ));
}
