/** Hands bytes to the browser as a file. */
export function download(name: string, bytes: Blob | Uint8Array<ArrayBuffer>, mime: string): void {
  const url = URL.createObjectURL(new Blob([bytes], { type: mime }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
