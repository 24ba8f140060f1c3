/** Puts off what is costly until it has not been wished for again for a while. */
export class Debounce {
  private timer: ReturnType<typeof setTimeout> | undefined;
  private due = false;

  constructor(private readonly wait: number) {}

  /** Whether it may be done now; if not, ``again`` is called when it may. */
  allows(again: () => void): boolean {
    clearTimeout(this.timer);
    if (this.due) {
      this.due = false;
      return true;
    }
    this.timer = setTimeout(() => {
      this.due = true;
      again();
    }, this.wait);
    return false;
  }

  /** Forget what was put off. */
  stop() {
    clearTimeout(this.timer);
    this.due = false;
  }
}
