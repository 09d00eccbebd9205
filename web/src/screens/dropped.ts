/** Files dropped anywhere on a screen, those in folders too. */

import { useEffect, useState } from "react";
import { useLatest } from "../bench/useLatest";

async function within(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile) return [await new Promise<File>((found, lost) => (entry as FileSystemFileEntry).file(found, lost))];
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const files: File[] = [];
  // a reader gives a folder in portions, an empty one at last
  for (;;) {
    const portion = await new Promise<FileSystemEntry[]>((found, lost) => reader.readEntries(found, lost));
    if (portion.length === 0) return files;
    for (const each of portion) files.push(...(await within(each)));
  }
}

async function filesOf(data: DataTransfer): Promise<File[]> {
  // entries must be asked for before anything is waited for
  const entries = [...data.items].flatMap((item) => item.webkitGetAsEntry() ?? []);
  if (entries.length === 0) return [...data.files];
  const found = (await Promise.all(entries.map(within))).flat();
  // what a system puts beside the files of a folder is no picture
  return found.filter((file) => !file.name.startsWith("."));
}

/** Takes what is dropped on the window; tells whether something is held over it. */
export function useDropped(onFiles: (files: readonly File[]) => void): boolean {
  const [over, setOver] = useState(false);
  const now = useLatest(onFiles);
  useEffect(() => {
    const held = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;
    const enter = (event: DragEvent) => {
      if (!held(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => event.relatedTarget === null && setOver(false);
    const drop = (event: DragEvent) => {
      if (!held(event) || !event.dataTransfer) return;
      event.preventDefault();
      setOver(false);
      void filesOf(event.dataTransfer).then((files) => now.current(files));
    };
    window.addEventListener("dragover", enter);
    window.addEventListener("dragleave", leave);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", enter);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("drop", drop);
    };
  }, [now]);
  return over;
}
