// A file that is picked is read into the box beside it, where it can be seen.

document.addEventListener("change", async (event) => {
  const into = event.target.dataset?.into;
  const file = into && event.target.files?.[0];
  if (file) document.getElementById(into).value = await file.text();
});
