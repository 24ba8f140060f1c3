import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { packFrame } from "../api/packFrame.fixture";
import type { FrameData } from "../api/frame";
import { FrameSource, stepOfError, type FrameRequest } from "./frameSource";

// What the browser has and the test's engine lacks.
vi.hoisted(() => vi.stubGlobal("window", { location: { origin: "http://localhost" } }));
vi.mock("../api/windowId", () => ({ windowId: Promise.resolve("a window") }));

const request: FrameRequest = {
  study: "s",
  piece: "p",
  key: "k",
  frame: 3,
  quality: "draft",
  maskOf: null,
  stride: 1,
  shards: "as they are",
};

const FACES = { triangles: new Uint32Array([0, 1, 2]), edges: new Uint32Array([0, 1]) };

/** A server whose frames name a topology that it has; what is told is the frames asked for. */
function serve(topology: string, size = 4) {
  const asked: string[] = [];
  vi.stubGlobal(
    "fetch",
    vi.fn((address: string) => {
      if (address.startsWith("/api/topologies/")) {
        expect(address).toBe(`/api/topologies/${topology}`);
        return Promise.resolve(new Response(packFrame({ topology, closed: true }, FACES)));
      }
      asked.push(address);
      const blocks = { points: new Uint16Array(size), normals: new Int16Array(2) };
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
    const [first, second] = await Promise.all([
      source.get(request, false),
      source.get(request, false),
    ]);
    expect(first).toBe(second);
    expect(await source.get(request, false)).toBe(first);
    expect(asked).toHaveLength(1);
    expect(source.inFlight).toBe(0);
  });
  it("shows what a frame nearly is where all before it takes long, and never after it", async () => {
    const serveAfter = (frameMs: number) => {
      const posts: number[] = [];
      vi.stubGlobal("fetch", (address: string, options?: RequestInit) => {
        if (address.startsWith("/api/topologies/"))
          return Promise.resolve(new Response(packFrame({ topology: "t", closed: true }, FACES)));
        const preview = options?.method === "POST";
        if (preview) posts.push(1);
        const blocks = { points: new Uint16Array(4), normals: new Int16Array(2) };
        const answer = () => new Response(packFrame({ topology: "t", near: preview }, blocks));
        return new Promise((done) => setTimeout(() => done(answer()), preview ? 20 : frameMs));
      });
      return posts;
    };
    const near = (data: FrameData) => (data.header as unknown as { near: boolean }).near;
    const seen: boolean[] = [];
    let posts = serveAfter(600);
    const exact = await source.getSeen(request, false, (data) => seen.push(near(data)));
    expect([...seen, near(exact), posts.length]).toEqual([true, false, 1]);
    // One that comes soon is waited for; one of many, and one without a past, are too.
    serveAfter(5);
    await source.getSeen({ ...request, frame: 4 }, false, () => seen.push(true));
    posts = serveAfter(350);
    await source.getSeen({ ...request, frame: 5 }, true, () => seen.push(true));
    await source.getSeen({ ...request, frame: 6 }, false, null);
    await new Promise((done) => setTimeout(done, 400));
    expect([seen.length, posts.length]).toEqual([1, 0]);
  });
  it("leaves a connection free while frames take long", async () => {
    const never = vi.fn(() => new Promise(() => undefined));
    vi.stubGlobal("fetch", never);
    for (let frame = 0; frame < 9; frame++) void source.get({ ...request, frame }, true);
    for (let piece = 0; piece < 9; piece++)
      void source.preview({ ...request, piece: String(piece) }, []);
    await new Promise((soon) => setTimeout(soon, 20));
    // Of a browser's six, besides the one that hears of changes.
    expect(never.mock.calls.length).toBeGreaterThan(1);
    expect(never.mock.calls.length).toBeLessThan(5);
  });
  it("takes a frame with another mask or key for another frame", async () => {
    const asked = serve("other");
    await source.get(request, false);
    for (const other of [{ maskOf: "bend" }, { key: "k2" }, { frame: 4 }]) {
      expect(source.has({ ...request, ...other })).toBe(false);
      await source.get({ ...request, ...other }, false);
    }
    expect(asked).toHaveLength(4);
  });
  it("keeps the faces of a frame as long as the frame", async () => {
    serve("early");
    const early = await source.get(request, false);
    for (let k = 0; k < 12; k++) {
      serve(`later ${k}`);
      await source.get({ ...request, frame: 100 + k }, false);
    }
    expect(source.peek(request)).toBe(early);
    expect([...source.peek(request)!.meshes[0].topology.triangles]).toEqual([0, 1, 2]);
  });
  it("asks for a topology once, however many frames name it", async () => {
    serve("shared");
    await Promise.all([1, 2, 3].map((frame) => source.get({ ...request, frame }, false)));
    await source.get({ ...request, frame: 4 }, false);
    const topologies = vi
      .mocked(fetch)
      .mock.calls.filter(([a]) => (a as string).startsWith("/api/topologies/"));
    expect(topologies).toHaveLength(1);
  });
  it("has the frame made again where its topology is not on the server any more", async () => {
    const caches: (string | undefined)[] = [];
    let made = false;
    vi.stubGlobal("fetch", (address: string, options?: RequestInit) => {
      if (address.startsWith("/api/topologies/"))
        return Promise.resolve(
          made
            ? new Response(packFrame({ topology: "gone", closed: false }, FACES))
            : new Response(null, { status: 404 }),
        );
      caches.push(options?.cache);
      // What the browser kept is not asked of the server.
      made = options?.cache === "reload";
      const blocks = { points: new Uint16Array(4), normals: new Int16Array(2) };
      return Promise.resolve(new Response(packFrame({ topology: "gone" }, blocks)));
    });
    expect((await source.get(request, false)).meshes[0].topology.closed).toBe(false);
    expect(caches).toEqual(["default", "reload"]);
  });
  it("drops the frames that were not looked at for longest", async () => {
    serve("large", 5000); // 10 kB each, three of which are kept
    source = new FrameSource(35_000);
    for (const frame of [0, 1, 2]) await source.get({ ...request, frame }, false);
    source.peek({ ...request, frame: 0 });
    await source.get({ ...request, frame: 3 }, false);
    expect([0, 1, 2, 3].map((frame) => source.has({ ...request, frame }))).toEqual([
      true,
      false,
      true,
      true,
    ]);
  });
  it("has no frame where a newer preview overtook it", async () => {
    vi.stubGlobal("fetch", () => Promise.resolve(new Response(null, { status: 204 })));
    expect(await source.preview(request, [])).toBeNull();
  });
  it("names the step that failed, and says so where the server is silent", async () => {
    const error = { message: "Bend: the limits meet.", hint: "", kind: "step", step_id: "b" };
    vi.stubGlobal("fetch", () =>
      Promise.resolve(new Response(JSON.stringify({ error }), { status: 422 })),
    );
    const failure = await source.get(request, false).catch((error: unknown) => error);
    expect(stepOfError(failure)).toMatchObject({ step: "b" });
    expect(stepOfError(failure).text).toContain("the limits meet");
    expect(source.has(request)).toBe(false);
    expect(stepOfError(new TypeError("fetch failed")).text).toContain("does not answer");
  });
});
