import { Zip, ZipPassThrough } from "fflate";

/** The files as one: itself where there is one, or else a ZIP of them, in the order of their names. */
export async function packed(files: File[]): Promise<File> {
  if (files.length === 1 && !files[0].name.toLowerCase().endsWith(".png")) return files[0];
  const zip = new Zip();
  const parts: Uint8Array<ArrayBuffer>[] = [];
  const done = new Promise<void>((ready, fail) => {
    zip.ondata = (error, part, last) => {
      if (error) return fail(error);
      parts.push(new Uint8Array(part));
      if (last) ready();
    };
  });
  const names = new Set<string>();
  for (const file of files) {
    if (!file.name.toLowerCase().endsWith(".png") || names.has(file.name)) continue;
    names.add(file.name);
    // PNG files are packed already.
    const entry = new ZipPassThrough(file.name);
    zip.add(entry);
    entry.push(new Uint8Array(await file.arrayBuffer()), true);
  }
  zip.end();
  await done;
  return new File(parts, "pictures.zip");
}
