/** Files that were dropped, those in folders as well. */
export async function filesOf(dropped: DataTransfer): Promise<File[]> {
  // What is dropped is there until this handler returns: all of it is asked for first.
  const given = [...dropped.items].map((item) => ({
    entry: item.webkitGetAsEntry(),
    file: item.getAsFile(),
  }));
  const found = await Promise.all(
    given.map(({ entry, file }) => (entry?.isDirectory ? filesIn(entry) : file ? [file] : [])),
  );
  return found.flat();
}

async function filesIn(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile)
    return [
      await new Promise<File>((ready, fail) => (entry as FileSystemFileEntry).file(ready, fail)),
    ];
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const all: FileSystemEntry[] = [];
  // It gives some at a time, and none at the end.
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((ready, fail) =>
      reader.readEntries(ready, fail),
    );
    if (!some.length) break;
    all.push(...some);
  }
  return (await Promise.all(all.map(filesIn))).flat();
}
