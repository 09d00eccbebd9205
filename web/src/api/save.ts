/** Puts something into a file of the user's. */
export function save(content: Blob, name: string): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(content);
  link.download = name;
  link.click();
  // the download reads it after this
  setTimeout(() => URL.revokeObjectURL(link.href), 1000);
}
