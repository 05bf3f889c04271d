/** Hand a file to the owner. */
export function save(blob: Blob, name: string): void {
  const a = document.createElement('a');
  a.href = URL.createObjectURL(blob);
  a.download = name.replace(/[\\/:*?"<>|]/g, ' ');
  a.click();
  setTimeout(() => URL.revokeObjectURL(a.href), 10_000);
}
