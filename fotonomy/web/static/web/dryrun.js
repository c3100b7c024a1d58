// The dry run as it goes: a bar, a stop, and the result in the place where it belongs.
// Without this script the form simply asks for the page with its result.
const form = document.getElementById("dry");
const going = document.querySelector(".dry-going");
const bar = document.getElementById("dry-bar");
const count = document.querySelector(".dry-count");
const shown = document.getElementById("dry-shown");
let stopping = null;

form.addEventListener("submit", (event) => {
  event.preventDefault();
  run(new URLSearchParams(/** @type {any} */ (new FormData(form))));
});
document.querySelector("[data-stop]").addEventListener("click", () => stopping?.abort());
form.dataset.ready = "";

async function run(query) {
  stopping?.abort();
  const mine = (stopping = new AbortController());
  let frames = 0;
  history.replaceState(null, "", `?${query}`);
  going.hidden = false;
  bar.value = 0;
  try {
    const answer = await fetch(`${form.dataset.go}?${query}`, { signal: mine.signal });
    for await (const told of lines(answer.body)) {
      if (told.refused) shown.textContent = `Not rehearsed: ${told.refused}.`;
      if (told.html) shown.innerHTML = told.html;
      if (told.done === undefined) continue;
      bar.value = told.done;
      frames = told.frames;
      count.textContent = `frame ${frames}`;
    }
  } catch {
    if (!mine.signal.aborted) shown.textContent = "The server did not answer: run it again.";
    // Stopped by hand: what was done until then is asked for as a page of its own.
    else if (stopping === mine) location.search = `${query}&until=${frames}`;
  }
  if (stopping !== mine) return;
  going.hidden = true;
  shown.scrollIntoView({ block: "nearest" });
}

// Lines of JSON out of a stream of bytes.
async function* lines(stream) {
  const reader = stream.pipeThrough(new TextDecoderStream()).getReader();
  let rest = "";
  for (;;) {
    const { value, done } = await reader.read();
    if (done) return;
    const parts = (rest + value).split("\n");
    rest = parts.pop();
    for (const part of parts) yield JSON.parse(part);
  }
}
