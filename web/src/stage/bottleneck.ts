import { median } from "./median";

/** One frame that was asked for ahead: ms it took on the server, and from the asking to its being
 * there. */
export interface Timing {
  server: number;
  whole: number;
}

/** How long the server took, as it tells; ms. */
export function serverMs(header: string | null): number {
  return Number(/dur=([\d.]+)/.exec(header ?? "")?.[1] ?? 0);
}

const KEPT = 24;
/** A rate this near to the one that is wanted is that rate. */
const ENOUGH = 0.9;
/** So few of the wanted frames may be missing before those who make them are to blame. */
const MISSING = 0.1;

/** Takes note of how frames come, and says why they come too slowly. */
export class Bottleneck {
  private timings: Timing[] = [];
  private asked = 0;
  private missing = 0;

  came(timing: Timing) {
    this.timings.push(timing);
    if (this.timings.length > KEPT) this.timings.shift();
  }

  /** The frame that is to be shown next was there, or not. */
  wanted(isReady: boolean) {
    this.asked += 1;
    if (!isReady) this.missing += 1;
  }

  /** What holds back, in words, since it was last asked; nothing where the rate is what it should
   * be.
   *
   * shown, wanted : pictures a second; slowest : title and ms of the step that takes longest */
  say(shown: number, wanted: number, slowest: { title: string; ms: number } | null): string {
    const missing = this.asked ? this.missing / this.asked : 0;
    this.asked = this.missing = 0;
    if (shown >= wanted * ENOUGH) return "";
    const rate = `${shown.toFixed(0)} of ${Number(wanted.toFixed(1))} a second`;
    if (missing <= MISSING) return `${rate}: drawing holds it back`;
    const server = median(this.timings.map((t) => t.server));
    const way = median(this.timings.map((t) => t.whole - t.server));
    if (this.timings.length && way > server)
      return `${rate}: the way from the server holds it back`;
    const most = slowest && slowest.ms > 0.5 * server ? `, most of all ${slowest.title}` : "";
    return `${rate}: computing holds it back${most}`;
  }
}

export const bottleneck = new Bottleneck();
