import type { loopOf } from "../api/document";
import { useOffscreen } from "../common/offscreen";
import { inLoopAt, timesBefore } from "../model/trailTimes";

type Loop = ReturnType<typeof loopOf>;

/** Nothing was drawn for so long: the picture is at rest. */
const IDLE_MS = 300;
/** Pictures before it that are drawn for one at rest; what is older is hardly seen. */
const MOST = 32;

/**
 * Trails of a picture at rest: the pieces stand at the moments before it, one after the other, and
 * are drawn aside; the last is the picture itself.
 */
export class TrailsAtRest {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private waiting: number[] = [];
  private kept: readonly unknown[] = [];

  /** A picture of a frame was drawn without its trails. advance : has the next one drawn */
  after(frame: number, loop: Loop, share: number, begin: () => void) {
    this.stop();
    this.kept = [];
    this.timer = setTimeout(() => {
      const { times } = timesBefore(frame, null, share, loop);
      this.waiting = [...times.slice(-MOST).map((t) => inLoopAt(t, loop.frames)), frame];
      begin();
      useOffscreen.setState({ frame: this.waiting[0] });
    }, IDLE_MS);
  }

  /** The moment that is to be drawn next; null while nothing is drawn so. */
  get wanted(): number | null {
    return this.waiting[0] ?? null;
  }

  /** It was drawn; whether it was the last. */
  drawn(): boolean {
    this.waiting.shift();
    useOffscreen.setState({ frame: this.waiting[0] ?? null });
    return this.waiting.length === 0;
  }

  /** All were drawn; of : all that they depend on */
  keep(of: readonly unknown[]) {
    this.kept = of;
  }

  /** Whether they are those of what is to be drawn now, so that only the picture itself is. */
  has(of: readonly unknown[]): boolean {
    return this.kept.length === of.length && this.kept.every((each, k) => each === of[k]);
  }

  /** They were drawn over. */
  forget() {
    this.kept = [];
  }

  /** Something else is to be seen. */
  stop() {
    clearTimeout(this.timer);
    if (!this.waiting.length) return;
    this.waiting = [];
    useOffscreen.setState({ frame: null });
  }
}
