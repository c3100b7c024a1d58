// The door: who logged out leaves no page on this device, and what waits here is said by name.
(async () => {
  const left = new URLSearchParams(location.search).get("left");
  const { keptDays, Outbox } = fotonomy;
  if (left && /^\d+$/.test(left)) {
    keptDays.nobody();
    await keptDays.drop(left);
  }
  for (const form of document.querySelectorAll("main form")) form.addEventListener("submit", () => keptDays.nobody());
  const box = document.querySelector("[data-waiting]");
  await new Outbox("").draw(box, { words: () => "", pressed: () => null, others: true });
})();
