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

/**
 * Asks for a file and reads it as text. Null when the maker thinks better of it; one of more than so many bytes is not
 * read, and says how many it has in `over`.
 */
export function pickTextFile(
  accept: string,
  mostBytes = Infinity,
): Promise<{ name: string; text: string; bytes: Uint8Array; over: number | null } | null> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.oncancel = () => resolve(null);
    input.onchange = async () => {
      const file = input.files?.[0];
      if (!file) return resolve(null);
      // What is larger than it may be is not read at all.
      const over = file.size > mostBytes ? file.size : null;
      const bytes = over === null ? new Uint8Array(await file.arrayBuffer()) : new Uint8Array();
      // As text only where it is wanted as text: a long recording is none.
      resolve({
        name: file.name,
        bytes,
        over,
        get text() {
          return new TextDecoder().decode(bytes);
        },
      });
    };
    input.click();
  });
}
