import { useEffect, useRef, useState } from "react";
import { sendMesh } from "../api/queries";
import { useInterface } from "../state/store";

interface NewStudy {
  name?: string;
  asset?: string;
  document?: Record<string, never>;
}

function figure(n: number) {
  return n.toLocaleString("en");
}

interface Uses {
  create: (body: NewStudy) => void;
  /** Where a study is open, a mesh becomes a piece of it; without this it begins a new study. */
  addPiece?: (name: string, asset: string) => void;
}

/** A mesh or study file is brought in; what was read, or why not, is said. */
export async function bringFile(file: File, { create, addPiece }: Uses) {
  const { say } = useInterface.getState();
  try {
    if (file.name.toLowerCase().endsWith(".json")) {
      create({ document: JSON.parse(await file.text()) });
      return;
    }
    const report = await sendMesh(file);
    const open = report.open_edges ? `, ${figure(report.open_edges)} open edges` : ", closed";
    const joined = report.joined_points
      ? `; ${figure(report.joined_points)} doubled points joined`
      : "";
    const name = file.name.replace(/\.[^.]+$/, "");
    const begin = () => create({ name, asset: report.digest });
    say({
      text: `${file.name}: ${figure(report.points)} points, ${figure(report.faces)} faces${open}${joined}.`,
      tone: "info",
      action: addPiece && { label: "Begin a new study with it", run: begin },
    });
    if (addPiece) addPiece(name, report.digest);
    else begin();
  } catch (error) {
    const text =
      error instanceof SyntaxError
        ? `This is not JSON (${error.message}). Bring a study as it was delivered.`
        : (error as Error).message;
    say({ text: `${file.name}: ${text}`, tone: "error" });
  }
}

/** Files dropped anywhere on the window; returns whether one is being held over it. */
export function useFileDrop(bring: (file: File) => void): boolean {
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
      for (const file of e.dataTransfer?.files ?? []) latest.current(file);
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
