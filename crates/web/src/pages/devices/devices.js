// The list of instruments as they read. What is typed stays.
let asked = 0;
const look = async () => {
  const list = document.getElementById("device-list");
  const isTyping = document.activeElement?.matches?.("#device-list input");
  if (isTyping) return;
  const answer = await fetch(location.pathname).catch(() => null);
  if (!answer?.ok) return;
  const next = new DOMParser().parseFromString(await answer.text(), "text/html").getElementById("device-list");
  if (next) list.replaceChildren(...next.childNodes);
};
// Hundreds of readings a second are one look a quarter of a second.
addEventListener("devices:read", () => { if (!asked) asked = setTimeout(() => { asked = 0; look(); }, 250); });
