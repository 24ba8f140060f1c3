import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { sendBundle, sendImage, sendMesh } from "../api/queries";
import { filesOf } from "./droppedFiles";
import { broughtWords, readWords } from "../model/importWords";
import { useInterface, type Notice } from "./store/store";

export interface NewStudy {
  name?: string;
  form?: string;
  asset?: string;
  document?: Record<string, never>;
}

const PICTURE = /\.(png|jpe?g|webp|tiff?)$/i;

interface Uses {
  /** Stores a study; resolves with its id. */
  create: (body: NewStudy) => Promise<string>;
  open: (id: string) => void;
  /** Where a study is open, a mesh becomes a piece of it; without this it begins a new study. */
  addPiece?: (name: string, report: Schemas["AssetReport"]) => Promise<unknown>;
  /** Where a piece is open, a picture becomes its relief. */
  addRelief?: (picture: string) => Promise<unknown>;
}

function figure(n: number) {
  return n.toLocaleString("en");
}

/** One mesh or study file; tells what was read, or why not. */
async function bringFile(file: File, only: boolean, uses: Uses): Promise<Notice | null> {
  const begin = async (body: NewStudy) => {
    const id = await uses.create(body);
    // Of several, none comes before the others.
    if (only) uses.open(id);
  };
  try {
    if (file.name.toLowerCase().endsWith(".json")) {
      await begin({ document: JSON.parse(await file.text()) });
      return only ? null : { text: `${file.name} is a study in the gallery.`, tone: "info" };
    }
    if (file.name.toLowerCase().endsWith(".zip")) {
      const { brought } = await sendBundle(file);
      const ids = brought.flatMap(({ id }) => id ?? []);
      const whole = ids.length === brought.length && brought.every((each) => !each.missing);
      if (only && whole && ids.length === 1 && !uses.addPiece) uses.open(ids[0]);
      return {
        text: broughtWords(brought),
        tone: whole ? "info" : "error",
        action:
          ids.length === 1 && uses.addPiece
            ? { label: "Open it", run: () => uses.open(ids[0]) }
            : undefined,
      };
    }
    if (PICTURE.test(file.name)) {
      if (!uses.addRelief)
        throw new Error("a picture becomes the relief of a piece; open a study.");
      const { digest, width, height } = await sendImage(file);
      await uses.addRelief(digest);
      return { text: `${file.name}: ${figure(width)} × ${figure(height)} pixels.`, tone: "info" };
    }
    const report = await sendMesh(file);
    const name = file.name.replace(/\.[^.]+$/, "");
    const study = { name, asset: report.digest };
    if (uses.addPiece) await uses.addPiece(name, report);
    else await begin(study);
    const open = report.open_edges ? `, ${figure(report.open_edges)} open edges` : "";
    return {
      text: `${file.name}: ${readWords(report)}${open}.`,
      tone: "info",
      action: uses.addPiece && {
        label: "Begin a new study with it",
        run: () => void begin(study).catch(() => undefined),
      },
    };
  } catch (error) {
    const text =
      error instanceof SyntaxError
        ? `This is not JSON (${error.message}). Bring a study as it was delivered.`
        : (error as Error).message;
    return { text: `${file.name}: ${text}`, tone: "error" };
  }
}

/** Files brought in one after the other; of each is told what was read, or why not. */
export async function bringFiles(files: File[], uses: Uses) {
  const { say } = useInterface.getState();
  const told: Notice[] = [];
  for (const file of files) {
    const notice = await bringFile(file, files.length === 1, uses);
    if (notice) told.push(notice);
  }
  if (told.length === 0) return;
  say({
    text: told.map((notice) => notice.text).join("\n"),
    tone: told.some((notice) => notice.tone === "error") ? "error" : "info",
    action: told.length === 1 ? told[0].action : undefined,
  });
}

/** Files dropped anywhere on the window; returns whether some are being held over it. */
export function useFileDrop(bring: (files: File[]) => void): boolean {
  const [over, setOver] = useState(false);
  const latest = useRef(bring);
  useEffect(() => {
    latest.current = bring;
  });
  useEffect(() => {
    const hasFiles = (e: DragEvent) => e.dataTransfer?.types.includes("Files") ?? false;
    const enter = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      setOver(true);
    };
    const leave = (e: DragEvent) => {
      if (e.relatedTarget === null) setOver(false);
    };
    const drop = (e: DragEvent) => {
      if (!hasFiles(e)) return;
      e.preventDefault();
      setOver(false);
      if (e.dataTransfer) void filesOf(e.dataTransfer).then((files) => latest.current(files));
    };
    window.addEventListener("dragover", enter);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", enter);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", drop);
    };
  }, []);
  return over;
}
