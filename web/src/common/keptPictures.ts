/** Bytes that pictures of one loop may take. */
const LIMIT = 640_000_000;
const BYTES_PER_PIXEL = 4;

/** What a picture is made of, as far as keeping it goes. */
export interface Kept {
  width: number;
  height: number;
  close: () => void;
}

function bytesOf({ width, height }: Kept): number {
  return width * height * BYTES_PER_PIXEL;
}

/**
 * Pictures of the frames of a loop, drawn once and shown again while nothing changes that they show.
 *
 * What they show is told by a scene: a text that differs where the pictures would. Pictures of
 * another scene are dropped; beyond the limit no more are taken, since a loop that is played round
 * and round would drop each one just before it is wanted again.
 */
export class KeptPictures<P extends Kept> {
  private scene = "";
  private kept = new Map<number, P>();
  private bytes = 0;
  /** Whether a picture was refused for want of room. */
  isFull = false;
  private listeners = new Set<() => void>();

  constructor(private readonly limit = LIMIT) {}

  /** Turn to a scene; pictures of any other are dropped. Whether it is another than before. */
  turnTo(scene: string): boolean {
    if (scene === this.scene) return false;
    this.scene = scene;
    this.clear();
    return true;
  }

  get(frame: number): P | undefined {
    return this.kept.get(frame);
  }

  has(frame: number): boolean {
    return this.kept.has(frame);
  }

  /** Frames of which there are pictures. */
  get frames(): ReadonlySet<number> {
    return new Set(this.kept.keys());
  }

  /** Whether there is a picture of so many pixels across, not a coarser one. */
  hasFine(frame: number, width: number): boolean {
    return (this.kept.get(frame)?.width ?? 0) >= width;
  }

  /**
   * Keep a picture that was begun when the scene was this one, in place of a coarser one; whether it
   * was taken.
   */
  keep(scene: string, frame: number, picture: P): boolean {
    if (scene !== this.scene || this.hasFine(frame, picture.width)) return false;
    const before = this.kept.get(frame);
    const more = bytesOf(picture) - (before ? bytesOf(before) : 0);
    this.isFull = this.bytes + more > this.limit;
    if (this.isFull) return false;
    before?.close();
    this.kept.set(frame, picture);
    this.bytes += more;
    this.tell();
    return true;
  }

  clear() {
    this.isFull = false;
    if (this.kept.size === 0) return;
    for (const picture of this.kept.values()) picture.close();
    this.kept.clear();
    this.bytes = 0;
    this.tell();
  }

  /** Call when pictures come or go; returns what ends it. */
  watch(listener: () => void): () => void {
    this.listeners.add(listener);
    return () => void this.listeners.delete(listener);
  }

  private tell() {
    for (const listener of this.listeners) listener();
  }
}

/** Pictures of the loop that the stage shows. */
export const keptPictures = new KeptPictures<ImageBitmap>();
