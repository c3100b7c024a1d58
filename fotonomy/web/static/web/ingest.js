// Stills brought home: sent one by one, two at a time, with a count; stopped, and gone on with later.
// A file's name, size and date make its id, so that what is there already is not sent again.
(() => {
  const form = document.querySelector("[data-home]");
  if (!form) return;
  const one = (selector) => form.querySelector(selector);
  const field = one("input[type=file]"),
    going = one("[data-going]"),
    bar = one("progress");
  const count = one("[data-count]"),
    refused = one("[data-refused]");
  const AT_ONCE = 2,
    WHOLE = /\.(jpe?g|png|tiff?|csv)$/i,
    HIDDEN = /(^|\/)\./,
    MOST_ASKED = 40;
  let stop = null;

  const idOf = async (file) => {
    const text = new TextEncoder().encode(`${file.name}|${file.size}|${file.lastModified}`);
    const digest = new Uint8Array(await crypto.subtle.digest("SHA-256", text));
    return [...digest]
      .map((byte) => byte.toString(16).padStart(2, "0"))
      .join("")
      .slice(0, 36);
  };
  const post = async (address, body, signal) => {
    const headers = { Accept: "application/json", "X-CSRFToken": one("[name=csrfmiddlewaretoken]").value };
    const answer = await fetch(address, { method: "POST", body, headers, signal });
    if (answer.redirected) throw new Error("signed out");
    const told = await answer.json().catch(() => ({}));
    if (answer.ok || answer.status === 422) return told;
    throw new Error(told.refused || String(answer.status));
  };
  const sendWhole = async (file, signal) => {
    const body = new FormData();
    body.set("still", file);
    body.set("uid", await idOf(file));
    return (await post(form.action, body, signal)).words || "";
  };
  // A raw file or a film stays where it is: the slices of it that are asked for are sent.
  const sendHead = async (file, signal) => {
    const slices = [[0, 262144]],
      uid = await idOf(file);
    for (let asked = 0; asked < MOST_ASKED; asked += 1) {
      const body = new FormData();
      body.set("name", file.name);
      body.set("size", file.size);
      body.set("uid", uid);
      for (const [at, length] of slices) {
        body.append("at", `${at}`);
        body.append("slice", file.slice(at, at + length));
      }
      const told = await post(field.dataset.head, body, signal);
      if (!told.want) return told.words || "";
      slices.push(told.want);
    }
    return `${file.name}: its head has no end`;
  };
  const send = (file, signal) => (WHOLE.test(file.name) ? sendWhole : sendHead)(file, signal);
  const takeIn = async (files) => {
    const all = files.filter((file) => file.size && !HIDDEN.test(file.name)),
      others = files.length - all.length;
    const left = [...all];
    let done = 0,
      trouble = "";
    stop = new AbortController();
    going.hidden = false;
    refused.replaceChildren();
    const tell = (words) => {
      const line = document.createElement("li");
      line.textContent = words;
      refused.append(line);
    };
    if (others) tell(`${others} hidden or empty left out`);
    const show = () => {
      bar.max = all.length || 1;
      bar.value = done;
      count.textContent = `${done} of ${all.length}`;
    };
    show();
    const some = async () => {
      while (left.length && !stop.signal.aborted) {
        const file = left.shift();
        try {
          const words = await send(file, stop.signal);
          if (words) tell(words);
          done += 1;
        } catch (error) {
          left.unshift(file);
          if (!stop.signal.aborted) trouble = error.message;
          stop.abort();
        }
        show();
      }
    };
    await Promise.all(Array.from({ length: AT_ONCE }, some));
    if (trouble) tell(`It stopped (${trouble}). Choose the same files again: it goes on where it stopped.`);
    else if (left.length) tell(`Stopped at ${done} of ${all.length}. Choose the same files again to go on.`);
    if (done && !left.length && !refused.children.length) location.reload();
    else if (done) tell("Reload the page to see what came in.");
  };
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    const files = [...field.files, ...one("[data-folder]").files];
    if (files.length) takeIn(files);
  });
  one("[data-stop]").addEventListener("click", () => stop?.abort());

  // A folder is walked through; what a browser cannot walk is taken as it is.
  const walk = async (entry) => {
    if (entry.isFile) return [await new Promise((good, bad) => entry.file(good, bad))];
    const reader = entry.createReader(),
      found = [];
    for (;;) {
      const some = await new Promise((good, bad) => reader.readEntries(good, bad));
      if (!some.length) return found;
      for (const one of some) found.push(...(await walk(one)));
    }
  };
  form.addEventListener("dragover", (event) => event.preventDefault());
  form.addEventListener("drop", async (event) => {
    event.preventDefault();
    const entries = [...event.dataTransfer.items].map((item) => item.webkitGetAsEntry?.()).filter(Boolean);
    const files = entries.length ? (await Promise.all(entries.map(walk))).flat() : [...event.dataTransfer.files];
    takeIn(files);
  });
})();
