import { describe, expect, it } from "vitest";
import { Bottleneck, serverMs } from "./bottleneck";

function after(ready: boolean[], timing = { server: 40, whole: 50 }) {
  const held = new Bottleneck();
  for (const each of ready) held.wanted(each);
  for (let k = 0; k < 5; k++) held.came(timing);
  return held;
}

const READY = Array<boolean>(10).fill(true);
const MISSING = Array<boolean>(10).fill(false);

describe("what holds the rate back", () => {
  it("is nothing where the rate is reached", () => {
    expect(after(MISSING).say(23, 24, null)).toBe("");
  });

  it("is drawing where every frame was there in time", () => {
    expect(after(READY).say(8, 24, null)).toBe("8 of 24 a second: drawing holds it back");
  });

  it("is computing where frames are missing and take long to make", () => {
    expect(after(MISSING).say(11.4, 24, { title: "Push", ms: 30 })).toBe(
      "11 of 24 a second: computing holds it back, most of all Push",
    );
    expect(after(MISSING).say(11.4, 24, { title: "Push", ms: 3 })).toBe(
      "11 of 24 a second: computing holds it back",
    );
  });

  it("is the way from the server where they are made quickly and come late", () => {
    const held = after(MISSING, { server: 4, whole: 90 });
    expect(held.say(5, 29.97, null)).toBe(
      "5 of 30 a second: the way from the server holds it back",
    );
  });

  it("is read from what the server tells", () => {
    expect(serverMs("frame;dur=12.50")).toBe(12.5);
    expect(serverMs(null)).toBe(0);
  });

  it("is judged anew each time", () => {
    const held = after(MISSING);
    held.say(5, 24, null);
    held.wanted(true);
    expect(held.say(5, 24, null)).toContain("drawing");
  });
});
