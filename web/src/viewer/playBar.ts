/** Plays a loop, and lets it be stopped and moved to any moment. */
export function playBar(bar: HTMLElement, seconds: number, show: (seconds: number) => void) {
  const button = bar.querySelector("button")!;
  const slider = bar.querySelector("input")!;
  const time = bar.querySelector("output")!;
  let at = 0;
  let playing = false;
  let last = 0;

  const put = (moment: number) => {
    at = ((moment % seconds) + seconds) % seconds;
    slider.value = String(at / seconds);
    time.textContent = `${at.toFixed(1)} s`;
    show(at);
  };
  const step = (now: number) => {
    if (!playing) return;
    put(at + (now - last) / 1000);
    last = now;
    requestAnimationFrame(step);
  };
  const play = (on: boolean) => {
    playing = on;
    button.textContent = on ? "❚❚" : "▶";
    button.setAttribute("aria-label", on ? "Pause" : "Play");
    last = performance.now();
    if (on) requestAnimationFrame(step);
  };
  button.addEventListener("click", () => play(!playing));
  slider.addEventListener("input", () => {
    play(false);
    put(Math.min(Number(slider.value), 0.99999) * seconds);
  });
  addEventListener("keydown", (event) => {
    if (event.key !== " " || event.target === button) return;
    event.preventDefault();
    play(!playing);
  });
  put(0);
  // Who wants less motion starts it.
  play(!matchMedia("(prefers-reduced-motion: reduce)").matches);
}
