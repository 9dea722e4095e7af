/** Hands a file to the browser's downloads. */
export function download(name: string, content: string | Uint8Array<ArrayBuffer>, type: string): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** A title as a file name: lower case, hyphens. */
export const fileName = (title: string, ending: string): string =>
  `${
    title
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '') || 'design'
  }.${ending}`;

/** Asks for files of which there may be several; none when the maker thinks better of it. */
export function pickFiles(accept: string): Promise<readonly File[]> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.multiple = true;
    input.oncancel = () => resolve([]);
    input.onchange = () => resolve([...(input.files ?? [])]);
    input.click();
  });
}

/** Asks for a file and reads it as text. Null when the maker thinks better of it. */
export function pickTextFile(accept: string): Promise<{ name: string; text: string; bytes: Uint8Array } | null> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.oncancel = () => resolve(null);
    input.onchange = async () => {
      const file = input.files?.[0];
      if (!file) return resolve(null);
      const bytes = new Uint8Array(await file.arrayBuffer());
      // As text only where it is wanted as text: a long recording is none.
      resolve({
        name: file.name,
        bytes,
        get text() {
          return new TextDecoder().decode(bytes);
        },
      });
    };
    input.click();
  });
}
