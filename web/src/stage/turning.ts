import { useInterface } from "../common/store/store";

const PAUSE_MS = 150;

/** Tells while the view is turned, moved or zoomed by hand. Each notch of a wheel begins and ends;
 * together they are one movement. */
export class Turning {
  private timer = 0;

  start() {
    window.clearTimeout(this.timer);
    useInterface.getState().set({ turning: true });
  }

  end() {
    this.timer = window.setTimeout(() => useInterface.getState().set({ turning: false }), PAUSE_MS);
  }

  stop() {
    window.clearTimeout(this.timer);
    useInterface.getState().set({ turning: false });
  }
}
