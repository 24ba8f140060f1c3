import { showModel } from "./model";
import { playBar } from "./playBar";
import type { Told } from "./told";

/** The script of a page with a model: all that it needs is in the page. */

const textOf = (id: string) => document.getElementById(id)?.textContent ?? "";

function bytesOf(base64: string): ArrayBuffer {
  return Uint8Array.from(atob(base64.trim()), (c) => c.charCodeAt(0)).buffer;
}

async function open() {
  const told = JSON.parse(textOf("study")) as Told;
  const place = document.getElementById("stage")!;
  const stage = await showModel(place, told, bytesOf(textOf("model")));
  playBar(document.getElementById("bar")!, told.seconds, stage.show);
  document.body.dataset.ready = "true";
}

open().catch((error: Error) => {
  document.getElementById("wrong")!.textContent = `This browser cannot show it: ${error.message}`;
});
