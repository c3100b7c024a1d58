// Field pages without a network: days kept on this device, what waits here until it is sent, other
// light looked up in what the server worked out ahead, and what others did meanwhile.
(() => {
  const body = document.body,
    one = (selector) => document.querySelector(selector);
  const state = one("[data-state]");
  const PATIENCE_MS = 2500,
    EVERY_MS = 3000;
  let seen = Number(body.dataset.seen) || 0,
    token = "";

  const say = (words, link) => {
    state.textContent = words;
    if (link) {
      const go = document.createElement("a");
      go.href = link.href;
      go.textContent = link.words;
      state.append(" ", go);
    }
    state.hidden = !words;
  };
  const soon = (address, options = {}) => {
    const ends = new AbortController();
    setTimeout(() => ends.abort(), options.patience || PATIENCE_MS);
    const headers = { Accept: "application/json", "X-Fotonomy-Person": fotonomy.person(), ...options.headers };
    return fetch(address, { ...options, headers, signal: ends.signal, cache: "no-store" });
  };

  // What waits: takes and readings, each with an id made here. Nothing leaves before it is answered.
  const outbox = new fotonomy.Outbox("field");
  const keep = (entry) => outbox.keep({ ...entry, send: body.dataset.send });
  const shown = (setup) => `field-set-${setup}`;
  const called = (entry) => {
    const said = entry.kind === "take" ? entry.verdict.replace("_", " ") : entry.way || entry.read;
    return `${entry.name}: ${said}`;
  };
  const list = async () => {
    const box = one("[data-waiting]");
    if (box) await outbox.draw(box, { words: called, pressed: () => look(true), others: true });
    return outbox.mine();
  };

  // What the server says to somebody whose way in was closed, or is too narrow for this.
  class Refused extends Error {}
  class Fault extends Error {}
  const NO_NETWORK = "No network.",
    TROUBLE = "The server has trouble and is asked again.";
  const answered = async (response) => {
    const meaning = fotonomy.meaningOf(response.status, response.redirected ? new URL(response.url).pathname : "");
    if (meaning === "closed") throw new Refused((await response.json()).refused);
    if (meaning === "signed out" && response.status === 409) throw new Refused((await response.json()).error);
    if (meaning !== "done") throw new Fault(`${response.status}`);
    return response.json();
  };

  // Who else has which setup in hand.
  const showHands = (hands) => {
    for (const line of document.querySelectorAll("[data-hands]")) {
      const names = hands[line.dataset.hands] || [];
      line.textContent = names.length ? `In hand: ${names.join(", ")}` : "";
      line.hidden = !names.length;
    }
  };

  // What others logged stands on this page without a press: the parts that show it are put anew.
  const freshen = async () => {
    if (!one("[data-live]")) return;
    const page = new DOMParser().parseFromString(
      await (await soon(location.href, { headers: { Accept: "text/html" } })).text(),
      "text/html",
    );
    for (const part of document.querySelectorAll("[data-live]")) {
      const fresh = page.querySelector(`[data-live="${part.dataset.live}"]`);
      if (fresh) part.replaceWith(fresh);
    }
  };

  // What changed meanwhile, where the server answers and somebody is signed in.
  let hands = {};
  const asked = async () => {
    const at = body.dataset.at ? `&at=${body.dataset.at}` : "";
    const response = await soon(`${body.dataset.news}?since=${seen}${at}`);
    if (response.redirected) return "signed out";
    const news = await answered(response);
    token = news.token;
    hands = news.hands;
    const told = news.newest > seen ? news.changes : [];
    seen = news.newest;
    if (told.length) await freshen().catch(() => {});
    showHands(hands);
    return { told, plan: news.plan };
  };

  // The picture of a take that is kept: once, and what the server says against it stays with it.
  const sendPicture = async (entry, here) => {
    if (!entry.picture || here.includes(entry.picture_uid)) return;
    const form = new FormData();
    form.set("picture", entry.picture, entry.picture.name);
    form.set("uid", entry.picture_uid);
    const response = await soon(entry.send.replace(/send\/$/, `picture/${entry.uid}/add/`), {
      method: "POST",
      patience: 120000,
      headers: { "X-CSRFToken": token },
      body: form,
    });
    if (response.status === 422) {
      say(`${entry.name}: its picture was not kept. ${(await response.json()).words}.`);
      return;
    }
    await answered(response);
  };

  const sender = new fotonomy.BatchSender(outbox, {
    batch: Number(body.dataset.batch),
    token: () => token,
    // A picture goes by itself after its take.
    stripped: ({ picture: _picture, ...entry }) => entry,
    kept: async (entry, result) => {
      await sendPicture(entry, result.pictures || []);
      if (entry.kind === "light") localStorage.removeItem(shown(entry.setup));
    },
  });

  const age = () => {
    const minutes = Math.round((Date.now() - Date.parse(body.dataset.made)) / 60000);
    if (minutes < 2) return "";
    return minutes < 120 ? `${minutes} min old` : `${Math.round(minutes / 60)} h old`;
  };
  // This shoot is closed to whoever is here: what waits for others goes out all the same.
  const sendElsewhere = async (now) => {
    try {
      token = (await answered(await soon(body.dataset.token))).token;
      await sender.send(now);
      await list();
    } catch {
      // Nobody answers, or nobody is logged in any more: it waits, and the shoot is closed all the same.
    }
  };
  const look = async (now = false) => {
    const before = await list();
    let told = [],
      plan = false;
    try {
      const news = await asked();
      if (news === "signed out") {
        const what = before.length ? `, ${before.length} waiting here, nothing is lost` : "";
        say(`You are signed out${what}.`, {
          href: `${body.dataset.logIn}?next=${location.pathname}`,
          words: "Log in",
        });
        return;
      }
      ({ told, plan } = news);
      if (before.some((entry) => !entry.refused)) {
        const came = await sender.send(now);
        await list();
        if (came.closed) throw new Refused(came.closed);
        if (came.later) throw came.fault ? new Fault("later") : new Error("later");
      }
    } catch (error) {
      if (error instanceof Refused) {
        await sendElsewhere(now);
        say(error.message);
        return;
      }
      const left = (await list()).filter((entry) => !entry.refused).length,
        old = age();
      const what = left ? ` ${left} ${left === 1 ? "waits" : "wait"} on this device.` : "";
      say(`${error instanceof Fault ? TROUBLE : NO_NETWORK}${old ? ` This plan is ${old}.` : ""}${what}`);
      return;
    }
    const left = await list();
    const refused = left.filter((entry) => entry.refused);
    if (refused.length) say(`Not taken: ${refused[0].name}: ${refused[0].refused}`);
    else if (told.length)
      say(`Meanwhile: ${told.slice(-3).join("; ")}.`, plan ? { href: location.href, words: "Show it" } : null);
    else if ([NO_NETWORK, TROUBLE].some((words) => state.textContent.startsWith(words))) say("");
  };

  // Values that were taken without a network stand on the card until they are sent.
  const values = one(".values[data-setup]");
  if (values) {
    const taken = JSON.parse(localStorage.getItem(shown(values.dataset.setup)) || "null");
    for (const [label, text] of Object.entries(taken || {})) {
      const item = values.querySelector(`[data-item="${CSS.escape(label)}"]`);
      if (!item) continue;
      item.querySelector(".value").textContent = text;
      item.querySelector(".detail").textContent = "taken here, not sent yet";
    }
  }

  // A take: kept here first, then the form goes its usual way where the server answers.
  const take = one("form[data-take]");
  if (take) {
    if ("errors" in take.dataset) outbox.forget(take.elements.namedItem("uid").value);
    let going = false;
    take.addEventListener("submit", async (event) => {
      event.preventDefault();
      // Pressed again while the first press is on its way: that take has its id.
      if (going) return;
      going = true;
      const data = new FormData(take),
        planned = {},
        differed = {};
      for (const stepper of take.querySelectorAll(".stepper")) {
        const input = stepper.querySelector("input");
        planned[input.name] = stepper.dataset.planned;
        if (input.value !== stepper.dataset.planned) differed[input.name] = input.value;
      }
      const own = String(data.get("own") || "")
        .split(",")
        .map((word) => word.trim())
        .filter(Boolean);
      // A page that was kept has an old id: each take sent from it needs one of its own.
      const uid = crypto.randomUUID();
      take.elements.namedItem("uid").value = uid;
      const entry = {
        uid,
        kind: "take",
        setup: Number(take.dataset.take),
        name: take.dataset.name,
        verdict: data.get("verdict"),
        at: data.get("at") || new Date().toISOString(),
        planned,
        differed,
        why: [...data.getAll("why"), ...own],
        clip: data.get("clip"),
        card: data.get("card"),
        length: data.get("length"),
        note: data.get("note"),
      };
      const picture = data.get("picture");
      if (picture instanceof File && picture.size) {
        entry.picture = picture;
        entry.picture_uid = crypto.randomUUID();
        take.elements.namedItem("picture_uid").value = entry.picture_uid;
      }
      try {
        await keep(entry);
      } catch {
        // No room on this device: then the form is sent as it is, or stays where it is.
        if (
          await asked().then(
            (news) => news !== "signed out",
            () => false,
          )
        )
          take.submit();
        else {
          say("No room on this device and no network: nothing is kept yet. Leave this page open and press Keep again.");
          for (const button of document.querySelectorAll("[type=submit]")) button.disabled = false;
          going = false;
        }
        return;
      }
      try {
        if ((await asked()) === "signed out") throw new Error("signed out");
        take.submit();
      } catch {
        location.href = take.dataset.card;
      }
    });
  }

  // Other light, looked up: the server has worked out every third of a stop of every setup.
  const light = one("[data-light]");
  const ahead = async () => (await fetch(light.dataset.ahead)).json();
  const element = (tag, words, kind) => {
    const node = document.createElement(tag);
    if (words) node.textContent = words;
    if (kind) node.className = kind;
    return node;
  };
  const takeWay = async (text, setup, way) => {
    const key = Number(light.dataset.light);
    await keep({
      uid: crypto.randomUUID().slice(0, 32),
      kind: "light",
      setup: key,
      name: setup.name,
      read: text,
      way: way ? way.words : "",
      at: new Date().toISOString(),
    });
    if (way) localStorage.setItem(shown(key), JSON.stringify(way.set));
    location.href = light.dataset.card;
  };
  const lookUp = async (text) => {
    const box = one("[data-found]");
    box.replaceChildren();
    let kept;
    try {
      kept = await ahead();
    } catch {
      box.append(element("p", "No network, and this day is not kept on this device.", "told must"));
      return;
    }
    const setup = kept.setups[light.dataset.light];
    const ev = setup ? fotonomy.typedLight.read(text, setup.ev, kept.names) : null;
    if (ev === null) {
      box.append(element("p", "Offline I know only: +1, EV 6, or a name such as overcast.", "field-error"));
      return;
    }
    const step = setup.steps.reduce((best, other) => (Math.abs(other.ev - ev) < Math.abs(best.ev - ev) ? other : best));
    const near = Math.abs(step.ev - ev) < 0.05 ? "" : ` The nearest kept answer is for EV ${step.ev}.`;
    const now = Number(ev.toFixed(2));
    box.append(element("p", `EV ${now}, planned ${setup.ev}; looked up without a network.${near}`, "said"));
    if (step.fits) box.append(element("p", "The planned settings still fit.", "told"));
    if (step.left !== undefined)
      box.append(element("p", `Don’t shoot: no setting helps, ${step.left} stops at the nearest.`, "told must"));
    const ways = element("ol", "", "ways");
    for (const way of [...(step.ways || []), null]) {
      const line = element("li"),
        words = element("div"),
        press = element("button", way ? "use" : "keep");
      words.append(element("b", way ? way.words : "Only keep the reading"));
      for (const cost of way?.costs || []) words.append(element("span", cost));
      if (way && !way.costs.length) words.append(element("span", "● as planned otherwise", "good-word"));
      if (way?.held) words.append(element("span", "▲ moves what you hold", "warn-word"));
      press.type = "button";
      press.addEventListener("click", () => takeWay(text, setup, way));
      line.append(words, press);
      ways.append(line);
    }
    box.append(ways);
  };
  if (light)
    for (const form of document.querySelectorAll("form.reads"))
      form.addEventListener("submit", async (event) => {
        event.preventDefault();
        const text = event.submitter?.value || form.elements.namedItem("read")?.value || "";
        try {
          if ((await asked()) === "signed out") throw new Error("signed out");
          location.search = `${new URLSearchParams({ read: text })}`;
        } catch {
          await lookUp(text);
        }
      });

  // A day is kept by the worker, whole or not at all, also where this page is left meanwhile.
  const { keptDays } = fotonomy;
  const ready = keptDays.worker(body.dataset.worker);
  const day = one("[data-keep]");
  if (day && navigator.serviceWorker) {
    day.hidden = false;
    const told = day.querySelector("[data-kept]");
    const follow = async () => {
      const { words, goesOn } = keptDays.said(await keptDays.state(day.dataset.keep), Date.now());
      told.textContent = words;
      if (goesOn) setTimeout(follow, 400);
    };
    day.querySelector("button").addEventListener("click", async () => {
      const worker = await ready;
      if (!worker) {
        told.textContent = "This browser does not allow it here.";
        return;
      }
      told.textContent = "Working the day out …";
      worker.postMessage({ person: fotonomy.person(), keep: day.dataset.keep });
      setTimeout(follow, 400);
    });
    follow();
  }
  one("[data-waiting] > button")?.addEventListener("click", () => look(true));
  addEventListener("online", () => look(true));
  setInterval(() => document.visibilityState === "visible" && look(), EVERY_MS);
  look();
})();
