import { expect, it, vi } from "vitest";
import { KeptPictures } from "./keptPictures";

const picture = (width = 10, height = 10) => ({ width, height, close: vi.fn() });

it("shows a picture again while the scene stays", () => {
  const kept = new KeptPictures();
  kept.turnTo("a");
  const one = picture();
  kept.keep("a", 3, one);
  kept.turnTo("a");
  expect(kept.get(3)).toBe(one);
  expect([...kept.frames]).toEqual([3]);
});

it("drops the pictures of another scene and frees them", () => {
  const kept = new KeptPictures();
  kept.turnTo("a");
  const one = picture();
  kept.keep("a", 3, one);
  expect(kept.turnTo("b")).toBe(true);
  expect(kept.turnTo("b")).toBe(false);
  expect(kept.get(3)).toBeUndefined();
  expect(one.close).toHaveBeenCalledOnce();
});

it("does not take a picture that was begun before the scene changed", () => {
  const kept = new KeptPictures();
  kept.turnTo("b");
  const late = picture();
  expect(kept.keep("a", 3, late)).toBe(false);
  expect(kept.has(3)).toBe(false);
  expect(kept.isFull).toBe(false);
});

it("stays within its bytes, and keeps the pictures that it has", () => {
  const kept = new KeptPictures(1000);
  kept.turnTo("a");
  kept.keep("a", 0, picture());
  kept.keep("a", 1, picture());
  expect(kept.isFull).toBe(false);
  expect(kept.keep("a", 2, picture())).toBe(false);
  expect([...kept.frames]).toEqual([0, 1]);
  expect(kept.isFull).toBe(true);
  kept.turnTo("b");
  expect(kept.isFull).toBe(false);
});

it("takes a finer picture in place of a coarse one, not the other way round", () => {
  const kept = new KeptPictures(2000);
  kept.turnTo("a");
  const [coarse, fine] = [picture(6, 6), picture(20, 20)];
  kept.keep("a", 0, coarse);
  expect(kept.hasFine(0, 20)).toBe(false);
  expect(kept.keep("a", 0, fine)).toBe(true);
  expect(coarse.close).toHaveBeenCalledOnce();
  expect(kept.hasFine(0, 20)).toBe(true);
  expect(kept.keep("a", 0, picture(6, 6))).toBe(false);
  expect(kept.get(0)).toBe(fine);
  // Its bytes count once: 400 pixels leave room for 100 more.
  expect(kept.keep("a", 1, picture(10, 10))).toBe(true);
  expect(kept.keep("a", 2, picture(1, 1))).toBe(false);
});

it("tells whoever watches, until that ends", () => {
  const kept = new KeptPictures();
  const heard = vi.fn();
  const end = kept.watch(heard);
  kept.turnTo("a");
  kept.keep("a", 0, picture());
  expect(heard).toHaveBeenCalledOnce();
  end();
  kept.clear();
  expect(heard).toHaveBeenCalledOnce();
});
