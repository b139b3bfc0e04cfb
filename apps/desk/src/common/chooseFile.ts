/** The text of a file that the person chooses; null when they choose none. @param accept endings or media types, with commas between */
export const chooseFile = (accept: string): Promise<string | null> =>
  new Promise((chosen) => {
    const input = window.document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    input.onchange = () => {
      const file = input.files?.[0];
      if (file) void file.text().then(chosen, () => chosen(null));
      else chosen(null);
    };
    input.oncancel = () => chosen(null);
    input.click();
  });
