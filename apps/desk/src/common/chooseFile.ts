/** Larger ones are not read: the page would stand still, and the server would not take them. Bytes. */
const LARGEST = 20_000_000;

/**
 * The text of a file that the person chooses; null when they choose none.
 * @param accept endings or media types, with commas between
 * @param onTooLarge told in words where it is larger than 20 MB; it then counts as none
 */
export const chooseFile = (accept: string, onTooLarge: (words: string) => void): Promise<string | null> =>
  new Promise((chosen) => {
    const input = window.document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.onchange = () => {
      const file = input.files?.[0];
      if (file && file.size > LARGEST) {
        onTooLarge(`${file.name} has ${Math.round(file.size / 1_000_000)} MB; a file may have at most 20 MB.`);
        chosen(null);
      } else if (file) void file.text().then(chosen, () => chosen(null));
      else chosen(null);
    };
    input.oncancel = () => chosen(null);
    input.click();
  });
