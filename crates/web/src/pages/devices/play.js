// Instruments played by hand: what a slider shows is sent through the door, twice a second while it moves,
// every two seconds while it rests.
const { door, now: begun } = document.getElementById("play").dataset;
// Instruments go by the server's time, whatever this device's clock says.
const offset = Number(begun) - Date.now();
const BEAT_MS = 250, REST_BEATS = 8;
// A thin stream out of a bottle, grams a second.
const STREAM_G_S = 60;
const trouble = document.getElementById("play-trouble");

const send = async (played, value) => {
  played.seq += 1;
  const { quantity, unit, token } = played.item.dataset;
  const line = { device: played.item.dataset.played, seq: played.seq, at: new Date(Date.now() + offset).toISOString(), quantity, value, unit };
  const answer = await fetch(door, { method: "POST", headers: { authorization: `Bearer ${token}` }, body: `${JSON.stringify(line)}\n` }).catch(() => null);
  trouble.hidden = Boolean(answer?.ok);
  if (!answer?.ok) trouble.textContent = `${line.device} is not heard: ${answer ? `the server answers ${answer.status}` : "no connection"}.`;
};

const all = [...document.querySelectorAll("[data-played]")].map((item) => ({
  item, seq: 0, rested: REST_BEATS, sent: NaN, pours: false,
  slider: item.querySelector("input[type=range]"), sends: item.querySelector("[data-sends]"),
}));
const show = (played) => { played.item.querySelector("output").textContent = played.slider.value; };

for (const played of all) {
  show(played);
  // Moving it is meant: it begins to send.
  played.slider.addEventListener("input", () => { played.sends.checked = true; show(played); });
  const pour = played.item.querySelector("[data-pour]");
  pour?.addEventListener("pointerdown", () => { played.pours = true; played.sends.checked = true; });
  for (const end of ["pointerup", "pointerleave", "pointercancel"]) pour?.addEventListener(end, () => { played.pours = false; });
  played.item.querySelector("[data-tare]")?.addEventListener("click", () => { played.slider.value = 0; played.sends.checked = true; show(played); });
}

setInterval(() => {
  for (const played of all) {
    if (played.pours) { played.slider.value = Number(played.slider.value) + STREAM_G_S * BEAT_MS / 1000; show(played); }
    if (!played.sends.checked) continue;
    const value = Number(played.slider.value);
    played.rested += 1;
    if (value === played.sent && played.rested < REST_BEATS) continue;
    [played.sent, played.rested] = [value, 0];
    send(played, value);
  }
}, BEAT_MS);
