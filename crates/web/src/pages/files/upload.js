// A file over its limit is refused before it is sent: nobody waits for 200 MB
// to travel only to be told.
document.addEventListener("submit", (event) => {
  const form = event.target.closest?.("form.upload");
  const input = form?.querySelector("input[type=file]");
  const file = input?.files?.[0];
  const isSvg = file?.name.toLowerCase().endsWith(".svg") && form?.dataset.svgLimit;
  const limit = Number(isSvg ? form.dataset.svgLimit : form?.dataset.limit);
  if (!file || !limit) return;
  const mb = (bytes) => Math.ceil(bytes / 1048576);
  let sentence = "";
  if (file.size > limit) sentence = `The file has ${mb(file.size)} MB; Fondant reads up to ${mb(limit)} MB. Make it smaller and try again.`;
  if (file.size === 0) sentence = "The file is empty. Choose another.";
  if (!sentence) return;
  event.preventDefault();
  input.setAttribute("aria-invalid", "true");
  form.querySelector(".refusal").textContent = sentence;
});

// Where there is a camera, a photo is taken at once and brought in.
for (const button of document.querySelectorAll("[data-opens-camera]")) {
  const field = document.getElementById(button.dataset.opensCamera);
  button.addEventListener("click", () => {
    field.setAttribute("capture", "environment");
    field.click();
    field.removeAttribute("capture");
  });
}
