"""Hostile values through every form, and mutated files through every door; then every page is asked.

What must never come: a server error, "nan" or "inf" on a page, typed markup that is not escaped, an
answer that takes over three seconds.
"""

import copy
import json
import random
import re
import time
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from functools import partial
from typing import Any

from benchmarks import scale

# In a small look, beside other tests, only what hangs is slow.
SLOW_S = 60.0 if scale.is_small() else 3.0
FEW_SETUPS = ("4B", "1A") if scale.is_small() else ()
VALUES = (
    "", " ", "0", "-0", "-1", "1e308", "1e-308", "1e-320", "-1e308", "1e999", "+nan", "Infinity", "-Infinity",
    "9" * 5000, "0." + "0" * 400 + "1", "1/0", "0/0", "1/1e-320", "²", "½", "٣", "１２",
    "\x00", "\u202e", "a" * 70_000, "<script>alert(1)</script>", "'\"><svg onload=x>",
    "{{ 7*7 }}", "%s%n", "../../etc/passwd", "99999999999999999999", "-99999999999999999999",
    "1,5", "1.5.5", "1e5 m", "f/0", "f/1e-300", "f/1e300", "every 0 s", "every 1e-300 s", "1e300 s",
    "0°", "1e300°", "1e300 EV", "-400 EV", "1e-300 lux", "1e400 lux", "none", "usual", "on", "1",
    "2", "true", "null", "[]", "{}", "9999-12-31", "0001-01-01", "24:00", "23:59:59.999999",
    "0:1", "0:99999", "99:1", "0:-1e9", "f/1.4 to f/22", "1..1e308", "+99", "−99", "∞", "\r\n", "\t",
)  # fmt: skip


@dataclass(slots=True)
class Found:
    """How many answers were looked at, and what was wrong, with the first example of each."""

    asked: int = 0
    wrong: Counter[str] = field(default_factory=Counter)
    examples: dict[str, str] = field(default_factory=dict)

    def note(self, kind: str, example: str) -> None:
        """Count a fault; its first example is kept."""
        self.wrong[kind] += 1
        self.examples.setdefault(kind, example[:300])


# Not what is quoted back as a person typed it.
_BROKEN = re.compile(r"(?<![\w;'\"+-])(nan|[-+−]?inf)(?![\w&'\"-])", re.IGNORECASE)
_MARKUP = ("<script>alert(1)</script>", "'\"><svg onload=x>")


def ask(found: Found, what: str, send: Callable[[], Any]) -> Any:
    """One request, looked at."""
    start = time.perf_counter()
    found.asked += 1
    try:
        answer = send()
    except Exception as error:  # the client raises what the server would log
        found.note("error", f"{what}: {type(error).__name__}: {error}")
        return None
    took = time.perf_counter() - start
    if took > SLOW_S:
        found.note("slow", f"{what}: {took:.1f} s")
    if answer.status_code >= 500:
        found.note("500", what)
    kind = answer.headers.get("Content-Type", "")
    if not answer.streaming and kind.startswith("text/html"):
        text = answer.content.decode()
        if any(markup in text for markup in _MARKUP):
            found.note("markup", what)
        shown = re.sub(r"<[^>]*>", " ", text)
        if broken := _BROKEN.search(shown):
            around = shown[max(0, broken.start() - 40) : broken.end() + 40]
            # What a person typed and gets back beside its error is no number of ours.
            if "field-error" not in text:
                found.note("nan", f"{what}: …{' '.join(around.split())}…")
    return answer


def _first_of(model: Any) -> int:
    """The key of the demo's first thing of a sort."""
    return int(model.objects.values_list("pk", flat=True).first())


def first_shoot() -> Any:
    """The demo's shoot: the first of all; other trials make more."""
    from fotonomy.shoots.models import Shoot

    return Shoot.objects.select_related("owner").earliest("pk")


def forms(client: Any) -> Iterator[tuple[str, dict[str, list[str]]]]:
    """Address and fields of every form that a person of the demo can send."""
    from lxml import html

    from fotonomy.kit.models import Body, Filter, Lens, Profile

    shoot = first_shoot()
    benches = [shoot.setups.get(code=code).get_absolute_url() for code in ("4B", "1A", "5B", "6A")]
    pages = [
        *benches, f"/shoots/{shoot.pk}/edit/", "/shoots/new/", f"/shoots/{shoot.pk}/packing/",
        *(f"/kit/{sort}/new/" for sort in ("body", "lens", "filter", "accessory", "profile")),
        *(f"/kit/{model.__name__.lower()}/{_first_of(model)}/"
          for model in (Body, Lens, Filter, Profile)),
    ]  # fmt: skip
    for page in pages:
        tree = html.fromstring(client.get(page).content.decode())
        form = max(tree.xpath("//form[@method='post']"), key=lambda one: len(one.fields.keys()))
        data: dict[str, list[str]] = {}
        for name, value in form.form_values():
            data.setdefault(name, []).append(value)
        for name in form.fields:
            data.setdefault(name, [""])
        yield page, data


# What scripts send beside the fields of a form.
EXTRA = ("fix", "reading_nudge", "reading_drop", "reading_add", "scene", "gesture", "light_sun",
         "seen", "step", "order", "setup", "subject_start", "monitor_view", "profiles",
         "formats-TOTAL_FORMS", "drives-TOTAL_FORMS", "more")  # fmt: skip


def hostile_values(client: Any, count: int, seed: int) -> Found:
    """So many hostile values in fields, each alone in an otherwise right form."""
    found, chance = Found(), random.Random(seed)
    every = list(forms(client))
    for _ in range(count):
        page, data = chance.choice(every)
        name = chance.choice([*data, *EXTRA])
        value = chance.choice(VALUES)
        alone = page.count("/") == 4 and page.startswith("/shoots/") and chance.random() < 0.7
        sent = {name: value} if alone else {**data, name: [value]}
        ask(found, f"POST {page} {name}={value[:40]!r}", partial(client.post, page, sent))
    found_after = pages(client)
    found.asked += found_after.asked
    found.wrong += found_after.wrong
    found.examples |= {k: v for k, v in found_after.examples.items() if k not in found.examples}
    return found


def pages(client: Any, codes: tuple[str, ...] = FEW_SETUPS) -> Found:
    """Every page of every shoot and of the kit, as it stands now; of these setups, or of all."""
    from fotonomy.kit.models import Accessory, Body, Filter, Lens, Profile

    found = Found()
    demo = first_shoot()
    addresses = ["/shoots/", "/kit/", "/kit/curves/", "/kit/kit.json"]
    addresses += [f"/shoots/{demo.pk}/{part}" for part in ("", "edit/", "packing/", "compare/")]
    rows = demo.setups.all()
    for row in rows.filter(code__in=codes) if codes else rows:
        bench = row.get_absolute_url()
        addresses += [f"{bench}{part}" for part in (
            "", "plans/", "play/", "level/", "monitor/", "monitor/zebras.jpg", "setup.json",
            "plan.json", "dry-run/", "program/", "dry-run.csv",
        )]  # fmt: skip
    for model in (Body, Lens, Filter, Accessory, Profile):
        for thing in model.objects.filter(owner=demo.owner):
            addresses.append(f"/kit/{model.__name__.lower()}/{thing.pk}/")
    for address in addresses:
        ask(found, f"GET {address}", partial(client.get, address, follow=True))
    return found


NUMBERS: tuple[Any, ...] = (
    0,
    -1,
    1e-307,
    1e-320,
    1e307,
    1e15,
    2**63,
    -(2**63),
    10**400,
    0.1,
    3,
    True,
    None,
    "2",
    [],
    {},
)
WORDS = ("", "x" * 90_000, "\ud800", "\x00", "²", "<script>alert(1)</script>", "+nan", "1e999")


def mutated(data: Any, chance: random.Random) -> Any:
    """A copy with one to three leaves or branches replaced, dropped or doubled."""
    fresh = copy.deepcopy(data)
    for _ in range(chance.choice((1, 1, 1, 2, 3))):
        places = list(_places(fresh))
        holder, key = chance.choice(places)
        value = holder[key]
        act = chance.random()
        if act < 0.65:
            usual = NUMBERS if isinstance(value, int | float) else (*WORDS, *NUMBERS)
            scaled = [value * f for f in (1e-9, 1e9, -1, 0.5)] if isinstance(value, float) else []
            holder[key] = chance.choice((*usual, *scaled))
        elif act < 0.85:
            del holder[key]
        elif isinstance(holder, list):
            holder.extend([copy.deepcopy(value)] * chance.choice((1, 40)))
        else:
            holder[f"{key}_"] = value
    return fresh


def _places(data: Any) -> Iterator[tuple[Any, Any]]:
    keys: Any = data.keys() if isinstance(data, dict) else range(len(data))
    for key in list(keys):
        yield data, key
        if isinstance(data[key], dict | list):
            yield from _places(data[key])


def mutated_bytes(raw: bytes, chance: random.Random) -> bytes:
    """A copy with bytes changed, cut out, doubled or put in, or cut off at the end."""
    fresh = bytearray(raw)
    for _ in range(chance.choice((1, 1, 2, 4, 16))):
        at, act = chance.randrange(max(1, len(fresh))), chance.random()
        if act < 0.4 and fresh:
            fresh[at] = chance.randrange(256)
        elif act < 0.6:
            del fresh[at : at + chance.choice((1, 7, 300))]
        elif act < 0.8:
            fresh[at:at] = chance.choice(SCRAPS)
        elif act < 0.92:
            fresh[at:at] = fresh[at : at + 400] * chance.choice((1, 30))
        else:
            del fresh[at:]
    return bytes(fresh)


SCRAPS = (
    b"\x00", b"\xff\xfe", b"\r", b'"', b",", b"nan", b"1e999", b"-", b"9" * 400, b"<script>alert(1)</script>",
    b"LUT_1D_SIZE 999999999\n", b"DOMAIN_MAX 1e-320 1 1\n", b"\xe2\x88\x9e", b"PK\x03\x04",
)  # fmt: skip


def _json_file(data: Any, chance: random.Random) -> bytes:
    fresh = mutated(data, chance)
    try:
        raw = json.dumps(fresh, ensure_ascii=chance.random() < 0.5).encode("utf-8", "surrogatepass")
    except ValueError:
        raw = b"{"
    return raw[: chance.randrange(len(raw))] if chance.random() < 0.05 else raw


def _frame() -> bytes:
    """A small noisy grey frame of 16 bits."""
    import numpy as np

    from fotonomy.exchange.pictures import write_png

    made = np.random.default_rng(7).normal(9000, 300, (64, 96))
    return write_png(np.clip(made, 0, 65_535).astype(np.uint16))


def _doors(client: Any) -> dict[str, Callable[[int, random.Random], Any]]:
    """What takes files in, by format: each sends its ``k``-th file with something wrong in it."""
    from django.core.files.uploadedfile import SimpleUploadedFile

    from fotonomy.kit.models import Body

    shoot = first_shoot()
    body = Body.objects.order_by("pk").first()
    assert body is not None
    setups = [
        client.get(f"{row.get_absolute_url()}setup.json").json()
        for row in shoot.setups.filter(code__in=("4B", "1A", "5B", "6A", "4C"))
    ]
    kit = client.get("/kit/kit.json").json()
    archive = client.get("/account/everything.zip").content
    rows = [(k / 200, (k / 200) ** 0.45) for k in range(201)]
    csv = "\n".join(f"{x:.6f},{y:.6f}" for x, y in rows).encode()
    cube = ("LUT_1D_SIZE 201\n" + "\n".join(f"{y:.6f} {y:.6f} {y:.6f}" for _, y in rows)).encode()
    frame = _frame()

    def upload(
        address: str, raw: bytes, field: str = "file", called: str = "a.json", **more: Any
    ) -> Any:
        return client.post(address, {field: SimpleUploadedFile(called, raw), **more})

    def curve(name: str, raw: bytes, k: int, chance: random.Random) -> Any:
        return upload(
            "/kit/profile/new/", mutated_bytes(raw, chance), "table_file", name,
            name=f"T{k} {name}", curve="table", clip_percent="90", scale="legal", bits="10",
        )  # fmt: skip

    def frames(k: int, chance: random.Random) -> Any:
        wrong = SimpleUploadedFile("b.png", mutated_bytes(frame, chance))
        return upload(
            f"/kit/body/{body.pk}/calibrate/", frame, "first-1", "a.png",
            **{"second-1": wrong, "iso-1": "500", "profile": "Flat log"},
        )  # fmt: skip

    return {
        "setup": lambda k, chance: upload(
            f"/shoots/{shoot.pk}/setups/import/", _json_file(setups[k % len(setups)], chance)
        ),
        "kit": lambda k, chance: upload("/kit/import/", _json_file(kit, chance)),
        "archive": lambda k, chance: upload(
            "/account/everything.zip", mutated_bytes(archive, chance), called="a.zip"
        ),
        "csv": lambda k, chance: curve("a.csv", csv, k, chance),
        "cube": lambda k, chance: curve("a.cube", cube, k, chance),
        "frame": frames,
    }


def mutated_files(client: Any, count: int, seed: int) -> Found:
    """So many mutated files of each format taken in; the pages of what was let in are asked."""
    from fotonomy.kit.models import Profile
    from fotonomy.shoots.models import Setup, Shoot

    found, chance = Found(), random.Random(seed)
    for name, send in _doors(client).items():
        for k in range(count):
            newest = Setup.objects.order_by("-pk").values_list("pk", flat=True).first() or 0
            shoots = set(Shoot.objects.values_list("pk", flat=True))
            profiles = set(Profile.objects.values_list("pk", flat=True))
            ask(found, f"{name} {k}", partial(send, k, chance))
            for row in Setup.objects.filter(pk__gt=newest)[:4]:
                for part in ("", "plans/", "plan.json", "level/", "dry-run/"):
                    address = f"{row.get_absolute_url()}{part}"
                    ask(found, f"{name} {k}: GET {part}", partial(client.get, address, follow=True))
            made = Profile.objects.exclude(pk__in=profiles)
            for profile in made if name in ("csv", "cube") else ():
                for page in (f"/kit/profile/{profile.pk}/", f"/kit/curves/?profile={profile.pk}"):
                    ask(found, f"{name} {k}: GET {page}", partial(client.get, page))
            if chance.random() < 0.9:
                Setup.objects.filter(pk__gt=newest).delete()
                Shoot.objects.exclude(pk__in=shoots).delete()
                made.filter(setups=None).delete() if name in ("csv", "cube") else None
    after = pages(client)
    found.asked += after.asked
    found.wrong += after.wrong
    found.examples |= {k: v for k, v in after.examples.items() if k not in found.examples}
    return found
