/** Topologies by their digests: fetched once, however many frames name them. */
import { asServerError } from "./client";
import { readTopology, type Topology } from "./frame";

/** The server does not have it any more; making one of its frames again brings it back. */
export class TopologyGone extends Error {}

const LIMIT_BYTES = 150_000_000;
const kept = new Map<string, Topology>();
const coming = new Map<string, Promise<Topology>>();
let bytes = 0;

function keep(topology: Topology) {
  kept.set(topology.digest, topology);
  bytes += topology.bytes;
  for (const [digest, oldest] of kept) {
    if (bytes <= LIMIT_BYTES || digest === topology.digest) break;
    kept.delete(digest);
    bytes -= oldest.bytes;
  }
}

async function ask(digest: string): Promise<Topology> {
  const response = await fetch(`/api/topologies/${digest}`);
  if (response.status === 404) throw new TopologyGone(digest);
  if (!response.ok) {
    throw asServerError(await response.json().catch(() => undefined), response.status);
  }
  const topology = readTopology(await response.arrayBuffer());
  keep(topology);
  return topology;
}

/** @throws TopologyGone; ServerError */
export function topologyOf(digest: string): Promise<Topology> {
  const found = kept.get(digest);
  if (found) {
    kept.delete(digest);
    kept.set(digest, found);
    return Promise.resolve(found);
  }
  const known = coming.get(digest);
  if (known) return known;
  const asked = ask(digest).finally(() => coming.delete(digest));
  coming.set(digest, asked);
  return asked;
}
