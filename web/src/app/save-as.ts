/** Gives a file to the browser to be kept under that name. */
export function saveAs(fileName: string, file: Blob): void {
  const link = Object.assign(document.createElement('a'), { href: URL.createObjectURL(file), download: fileName });
  link.click();
  // Some browsers fetch it a little later.
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
