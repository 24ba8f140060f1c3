import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { packFrame } from "../api/packFrame.fixture";
import { FrameSource, stepOfError, type FrameWish } from "./frameSource";

// What the browser has and the test's engine lacks.
vi.hoisted(() => vi.stubGlobal("window", { location: { origin: "http://localhost" } }));
vi.mock("../api/windowId", () => ({ windowId: Promise.resolve("a window") }));

const wish: FrameWish = {
  study: "s",
  piece: "p",
  key: "k",
  frame: 3,
  quality: "draft",
  maskOf: null,
  stride: 1,
};

/** A server that leaves the topology out where it is told that it is held. */
function serve(topology: string, size = 4) {
  const asked: string[] = [];
  vi.stubGlobal(
    "fetch",
    vi.fn((address: string, options?: { body: string }) => {
      const held = options
        ? (JSON.parse(options.body) as { have: string[] }).have
        : new URLSearchParams(address.split("?")[1]).get("have")!.split(",");
      asked.push(address);
      const faces = { triangles: new Uint32Array([0, 1, 2]), edges: new Uint32Array([0, 1]) };
      const blocks = {
        points: new Uint16Array(size),
        normals: new Int16Array(2),
        ...(held.includes(topology) ? {} : faces),
      };
      return Promise.resolve(new Response(packFrame({ topology }, blocks)));
    }),
  );
  return asked;
}

afterEach(() => vi.unstubAllGlobals());

describe("FrameSource", () => {
  let source: FrameSource;
  beforeEach(() => (source = new FrameSource()));

  it("asks once for a frame, however often it is wanted", async () => {
    const asked = serve("once");
    const [first, second] = await Promise.all([source.get(wish, false), source.get(wish, false)]);
    expect(first).toBe(second);
    expect(await source.get(wish, false)).toBe(first);
    expect(asked).toHaveLength(1);
    expect(source.inFlight).toBe(0);
  });
  it("leaves a connection free while frames take long", async () => {
    const never = vi.fn(() => new Promise(() => undefined));
    vi.stubGlobal("fetch", never);
    for (let frame = 0; frame < 9; frame++) void source.get({ ...wish, frame }, true);
    for (let piece = 0; piece < 9; piece++)
      void source.preview({ ...wish, piece: String(piece) }, []);
    await new Promise((soon) => setTimeout(soon, 20));
    // Of a browser's six, besides the one that hears of changes.
    expect(never.mock.calls.length).toBeGreaterThan(1);
    expect(never.mock.calls.length).toBeLessThan(5);
  });
  it("takes a frame with another mask or key for another frame", async () => {
    const asked = serve("other");
    await source.get(wish, false);
    for (const other of [{ maskOf: "bend" }, { key: "k2" }, { frame: 4 }]) {
      expect(source.has({ ...wish, ...other })).toBe(false);
      await source.get({ ...wish, ...other }, false);
    }
    expect(asked).toHaveLength(4);
  });
  it("keeps the faces of a frame as long as the frame", async () => {
    serve("early");
    const early = await source.get(wish, false);
    for (let k = 0; k < 12; k++) {
      serve(`later ${k}`);
      await source.get({ ...wish, frame: 100 + k }, false);
    }
    expect(source.peek(wish)).toBe(early);
    expect([...source.peek(wish)!.topology.triangles]).toEqual([0, 1, 2]);
  });
  it("asks for everything where the faces were dropped while the frame was on its way", async () => {
    serve("slow");
    await source.get(wish, false);
    const answers: (() => void)[] = [];
    const plain = fetch;
    vi.stubGlobal("fetch", async (address: string) => {
      await new Promise<void>((go) => answers.push(go));
      return plain(address);
    });
    const coming = source.get({ ...wish, frame: 4 }, false);
    await vi.waitFor(() => expect(answers).toHaveLength(1));
    // Eight other topologies come in between.
    for (let k = 0; k < 8; k++) {
      serve(`between ${k}`);
      await source.get({ ...wish, frame: 200 + k }, false);
    }
    vi.stubGlobal("fetch", plain);
    answers[0]();
    expect((await coming).topology.digest).toBe("slow");
  });
  it("drops the frames that were not looked at for longest", async () => {
    serve("large", 5000); // 10 kB each, three of which are kept
    source = new FrameSource(35_000);
    for (const frame of [0, 1, 2]) await source.get({ ...wish, frame }, false);
    source.peek({ ...wish, frame: 0 });
    await source.get({ ...wish, frame: 3 }, false);
    expect([0, 1, 2, 3].map((frame) => source.has({ ...wish, frame }))).toEqual([
      true,
      false,
      true,
      true,
    ]);
  });
  it("has no frame where a newer preview overtook it", async () => {
    vi.stubGlobal("fetch", () => Promise.resolve(new Response(null, { status: 204 })));
    expect(await source.preview(wish, [])).toBeNull();
  });
  it("names the step that failed, and says so where the server is silent", async () => {
    const error = { message: "Bend: the limits meet.", hint: "", kind: "step", step_id: "b" };
    vi.stubGlobal("fetch", () =>
      Promise.resolve(new Response(JSON.stringify({ error }), { status: 422 })),
    );
    const failure = await source.get(wish, false).catch((error: unknown) => error);
    expect(stepOfError(failure)).toMatchObject({ step: "b" });
    expect(stepOfError(failure).text).toContain("the limits meet");
    expect(source.has(wish)).toBe(false);
    expect(stepOfError(new TypeError("fetch failed")).text).toContain("does not answer");
  });
});
