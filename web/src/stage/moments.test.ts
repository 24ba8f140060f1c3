import { expect, it } from "vitest";
import { momentToShow, nextMoment } from "./moments";

const LOOP = { first: 0, count: 10 };
const among =
  (...frames: number[]) =>
  (frame: number) =>
    frames.includes(frame);
const all = () => true;

it("draws the moment that is reached when it is done, not one that will have passed", () => {
  expect(nextMoment(3, 2, Infinity, 1, LOOP, among(), all)).toBe(5);
  expect(nextMoment(9, 2, Infinity, 1, LOOP, among(), all)).toBe(1);
  expect(nextMoment(3, 2, Infinity, -1, LOOP, among(), all)).toBe(1);
});

it("draws what was just passed where nothing ahead is computed in time", () => {
  const long = { first: 0, count: 200 };
  // Of 40 to 58, the nearest can still be shown; the oldest would not be until it comes round.
  const passed = (frame: number) => frame >= 40 && frame <= 58;
  expect(nextMoment(60, 2, Infinity, 1, long, among(), passed)).toBe(58);
  expect(nextMoment(60, 2, Infinity, 1, long, among(58), passed)).toBe(57);
});

it("leaves out what has a picture and what is not computed yet", () => {
  expect(nextMoment(3, 1, Infinity, 1, LOOP, among(4, 5), among(4, 7, 8))).toBe(7);
  expect(nextMoment(3, 1, Infinity, 1, LOOP, all, all)).toBeNull();
  // What was passed comes round again.
  expect(nextMoment(3, 1, Infinity, 1, LOOP, among(), among(2))).toBe(2);
});

it("does not draw what could not be kept until it is seen", () => {
  expect(nextMoment(3, 1, 2, 1, LOOP, among(4), among(9))).toBeNull();
  expect(nextMoment(3, 1, 2, 1, LOOP, among(4), among(5))).toBe(5);
});

it("stays within the range that plays", () => {
  expect(nextMoment(5, 1, Infinity, 1, { first: 4, count: 2 }, among(), all)).toBe(4);
});

it("shows the picture of the playhead, or else the one that was passed last", () => {
  expect(momentToShow(6, 2, 1, LOOP, true, among(2, 4, 6))).toBe(6);
  expect(momentToShow(6, 2, 1, LOOP, true, among(2, 4))).toBe(4);
  // It is shown already.
  expect(momentToShow(6, 4, 1, LOOP, true, among(2, 4))).toBeNull();
  expect(momentToShow(6, 8, -1, LOOP, true, among(7, 8))).toBe(7);
});

it("goes round where the loop does, and nowhere else", () => {
  expect(momentToShow(1, null, 1, LOOP, true, among(8))).toBe(8);
  expect(momentToShow(1, null, 1, LOOP, false, among(8))).toBeNull();
  expect(momentToShow(8, null, -1, LOOP, false, among(1))).toBeNull();
});
