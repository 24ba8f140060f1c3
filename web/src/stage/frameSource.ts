import pLimit from "p-limit";
import { ServerError, asServerError, type Operation } from "../api/client";
import { readFrame, type FrameData } from "../api/frame";
import { pictureOf } from "../api/pictures";
import { TopologyGone, topologyOf } from "../api/topologies";
import { windowId } from "../api/windowId";
import type { ShardsShown } from "../common/store/viewing";
import { bottleneck, serverMs } from "./bottleneck";
import { drawing, noteLoose } from "./decimation";

const MEMORY_LIMIT = 450_000_000;
/**
 * Frames that are asked for at once. A browser has six connections to a server; one hears of
 * changes, and one is left for everything else while frames take long.
 */
const MOST_ASKED = 4;
/** A frame that takes longer because of all before it is seen as it nearly is first. */
const FIRST_SIGHT_MS = 150;

export interface FrameRequest {
  study: string;
  piece: string;
  key: string;
  frame: number;
  quality: "draft" | "final";
  maskOf: string | null;
  /** Of loose points, one of so many. */
  stride: number;
  shards: ShardsShown;
}

/** many : one of many frames, each of which is to take one of the server's cores only */
function address(request: FrameRequest, many: boolean): string {
  const query = new URLSearchParams({
    key: request.key,
    frame: String(request.frame),
    quality: request.quality,
  });
  if (request.maskOf) query.set("mask_of", request.maskOf);
  if (request.stride > 1) query.set("stride", String(request.stride));
  if (request.shards !== "as they are") query.set("shards", request.shards);
  if (many) query.set("many", "true");
  return `/api/studies/${request.study}/pieces/${request.piece}/frame?${query}`;
}

function nameOf(request: FrameRequest): string {
  return `${request.piece}/${request.key}/${request.frame}/${request.maskOf ?? ""}/${request.stride}/${request.shards}`;
}

async function read(response: Response): Promise<FrameData> {
  if (!response.ok) {
    throw asServerError(await response.json().catch(() => undefined), response.status);
  }
  return readFrame(await response.arrayBuffer(), topologyOf, pictureOf);
}

/** Once more from the server itself where the frame's topology is not there any more. */
async function complete<T>(ask: (cache: RequestCache) => Promise<T>): Promise<T> {
  try {
    return await ask("default");
  } catch (error) {
    if (error instanceof TopologyGone) return ask("reload");
    throw error;
  }
}

/** Frames in memory, least recently used out first, and those on their way. */
export class FrameSource {
  private kept = new Map<string, FrameData>();
  private bytes = 0;
  private waiting = new Map<string, Promise<FrameData>>();
  private sequence = Date.now();
  private readonly inTurn = pLimit(MOST_ASKED);
  /** Frames with changes that are on their way. */
  previews = 0;

  constructor(private readonly limitBytes = MEMORY_LIMIT) {}

  peek(request: FrameRequest): FrameData | undefined {
    const name = nameOf(request);
    const found = this.kept.get(name);
    if (found) {
      this.kept.delete(name);
      this.kept.set(name, found);
    }
    return found;
  }

  has(request: FrameRequest): boolean {
    return this.kept.has(nameOf(request));
  }

  get inFlight(): number {
    return this.waiting.size;
  }

  /** A stored frame; asking twice for one that is on its way waits for the same answer. */
  get(request: FrameRequest, many: boolean): Promise<FrameData> {
    const found = this.peek(request);
    if (found) return Promise.resolve(found);
    const name = nameOf(request);
    const known = this.waiting.get(name);
    if (known) return known;
    const started = performance.now();
    const ask = async (cache: RequestCache) => {
      const response = await fetch(address(request, many), { cache });
      const data = await read(response);
      const server = serverMs(response.headers.get("Server-Timing"));
      if (many) bottleneck.came({ server, whole: performance.now() - started });
      return data;
    };
    const coming = this.inTurn(() => complete(ask))
      .then((data) => {
        noteLoose(request.study, request.piece, data.header);
        this.keep(name, data);
        return data;
      })
      .finally(() => this.waiting.delete(name));
    this.waiting.set(name, coming);
    return coming;
  }

  /** The same, and what it nearly is, where the frame itself takes long because of all before it. */
  getSeen(
    request: FrameRequest,
    many: boolean,
    first: ((data: FrameData) => void) | null,
  ): Promise<FrameData> {
    const coming = this.get(request, many);
    if (!first || many || this.has(request)) return coming;
    let arrived = false;
    const timer = setTimeout(() => {
      void this.preview(request, [])
        .then((data) => {
          if (data && !arrived) first(data);
        })
        // What is wrong with it, the frame itself says.
        .catch(() => undefined);
    }, FIRST_SIGHT_MS);
    return coming.finally(() => {
      arrived = true;
      clearTimeout(timer);
    });
  }

  private keep(name: string, data: FrameData) {
    this.kept.set(name, data);
    this.bytes += data.bytes;
    for (const [old, dropped] of this.kept) {
      if (this.bytes <= this.limitBytes) break;
      this.kept.delete(old);
      this.bytes -= dropped.bytes;
    }
  }

  /** A frame with changes that are not stored; null where a newer request overtook it. */
  async preview(request: FrameRequest, operations: Operation[]): Promise<FrameData | null> {
    this.previews += 1;
    try {
      return await this.inTurn(() => this.askPreview(request, operations));
    } finally {
      this.previews -= 1;
    }
  }

  private async askPreview(
    request: FrameRequest,
    operations: Operation[],
  ): Promise<FrameData | null> {
    const window = await windowId;
    return complete(async () => {
      const response = await fetch(
        `/api/studies/${request.study}/pieces/${request.piece}/preview`,
        {
          method: "POST",
          headers: { "Content-Type": "application/json" },
          body: JSON.stringify({
            window,
            sequence: ++this.sequence,
            operations,
            frame: request.frame,
            quality: request.quality,
            mask_of: request.maskOf,
            stride: request.stride,
            shards: request.shards,
            // All cores at once would wait for the one that draws.
            many: drawing.inSoftware,
          }),
        },
      );
      return response.status === 204 ? null : read(response);
    });
  }
}

export const frames = new FrameSource();

export function stepOfError(error: unknown): { step: string | null; text: string } {
  if (error instanceof ServerError) {
    return { step: error.body.step_id ?? null, text: error.message };
  }
  return { step: null, text: "The server does not answer. Your study is stored as it was." };
}
