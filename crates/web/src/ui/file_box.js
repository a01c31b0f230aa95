// A file that is picked is read into the box beside it, where it can be seen. Loggers write in every
// encoding: a byte order mark tells it, else it is UTF-8 where that can be, else Windows-1252.

function decoded(bytes) {
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return new TextDecoder("utf-16le").decode(bytes);
  if (a === 0xfe && b === 0xff) return new TextDecoder("utf-16be").decode(bytes);
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}

document.addEventListener("change", async (event) => {
  const into = event.target.dataset?.into;
  const file = into && event.target.files?.[0];
  if (!file) return;
  document.getElementById(into).value = decoded(new Uint8Array(await file.arrayBuffer()));
});
