import { median } from "./median";

export type Level = 0 | 1 | 2 | 3;
const LAST: Level = 3;

const SLOW_MS = 60;
const QUICK_MS = 18;
const TICKS = 8;

/**
 * Decides the level of detail from how long pictures take: down at once where they are slow, up
 * again where they have been quick for a while, and more reluctantly after each time that failed.
 */
export class Pace {
  private spent: number[] = [];
  private drawnBefore = 0;
  private quickFor = 0;
  private patience = 2;

  /** least : the level that is never gone below, 1 where the machine draws in software */
  constructor(
    public level: Level,
    private readonly least: Level = 0,
  ) {
    this.level = Math.max(level, least) as Level;
  }

  /** Begin anew after a pause, which says nothing of how long a picture takes. */
  begin(drawn: number) {
    this.spent = [];
    this.quickFor = 0;
    this.drawnBefore = drawn;
  }

  /**
   * Take note of a tick of the screen, and give the level that suits.
   *
   * spent : milliseconds since the tick before; drawn : pictures drawn so far
   */
  tick(spent: number, drawn: number): Level {
    this.spent.push(spent);
    if (this.spent.length < TICKS) return this.level;
    const typical = median(this.spent);
    // Ticks between which nothing was drawn come quickly on any machine.
    const drew = drawn - this.drawnBefore > TICKS / 2;
    this.spent = [];
    this.drawnBefore = drawn;
    this.quickFor = drew && typical < QUICK_MS ? this.quickFor + 1 : 0;
    if (typical > SLOW_MS && this.level < LAST) {
      this.patience *= 4;
      this.level = (this.level + 1) as Level;
    } else if (this.quickFor > this.patience && this.level > this.least) {
      this.quickFor = 0;
      this.level = (this.level - 1) as Level;
    }
    return this.level;
  }
}
