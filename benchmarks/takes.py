"""What comes home: stills taken in, a test frame looked at whole, a run looked through, pages."""

import subprocess
import sys
import time
from dataclasses import dataclass
from functools import partial
from io import BytesIO
from typing import Any

from benchmarks import scale

STILLS = scale.rounds(500, 10)
RUN, HALF_RUN = scale.rounds(700, 20), scale.rounds(350, 10)
STILL_PX = (scale.rounds(6000, 1200), scale.rounds(4000, 800))


@dataclass(frozen=True, slots=True)
class Home:
    """Times in ms, the peak of a process that looked at a test frame in MB.

    ``linear`` is what a frame of a run costs against one of a run half as long.
    """

    notes_ms: list[float]
    stills_ms: list[float]
    frame_ms: list[float]
    frame_mb: float
    run_ms: list[float]
    linear: float
    row_ms: list[float]
    run_page_ms: list[float]
    setup_ms: list[float]


def still_of(size: tuple[int, int] = STILL_PX) -> bytes:
    """A still of 24 megapixels with things and grain in it, and what a camera notes."""
    import cv2
    import numpy as np
    from PIL import Image

    random = np.random.default_rng(4)
    rough = random.uniform(30, 220, (size[1] // 40, size[0] // 40, 3)).astype(np.float32)
    picture = cv2.resize(rough, size, interpolation=cv2.INTER_CUBIC)
    picture += random.normal(0, 4, (size[1], size[0], 1)).astype(np.float32)
    exif = Image.Exif()
    exif.get_ifd(0x8769).update({
        33434: 0.02, 33437: 4.0, 34855: 500, 36867: "2027:06:05 15:20:01", 42033: "A1",
    })  # fmt: skip
    out = BytesIO()
    Image.fromarray(np.clip(picture, 0, 255).astype(np.uint8)).save(
        out, "JPEG", quality=92, exif=exif
    )
    return out.getvalue()


def _each(action: Any, times: int) -> list[float]:
    taken = []
    for _ in range(times):
        start = time.perf_counter()
        action()
        taken.append(1000 * (time.perf_counter() - start))
    return taken


# Run by itself, so that its peak is its own: reads a still from the standard input and looks at it.
_LOOK = """
import sys
from pathlib import Path
from fotonomy.exchange.pictures import read_luma, read_preview
from fotonomy.core.pictures.points import points_of
from fotonomy.core.pictures.patches import tiles_of
raw = sys.stdin.buffer.read()
read_preview(raw, "a.jpg")
luma = read_luma(raw, "a.jpg")
tiles_of(luma), points_of(luma)
# The peak of this process alone: what getrusage says goes on from the process it came of.
peak = next(l for l in Path("/proc/self/status").read_text().splitlines() if l.startswith("VmHWM"))
print(int(peak.split()[1]) / 1024)
"""


def measure() -> Home:
    """Everything, on the demo's database."""
    from django.test import Client
    from django.urls import reverse

    from fotonomy.exchange.media_headers import Slice, read_head
    from fotonomy.exchange.pictures import read_preview
    from fotonomy.field.models import FrameSeen, Take, TakePicture
    from fotonomy.field.pictures import look_at
    from fotonomy.shoots.models import Shoot
    from fotonomy.takes.ingest import COPY_PX, keep_still
    from fotonomy.takes.runs import see_some

    shoot = Shoot.objects.get(name="Keel to Tide")
    raw = still_of()
    small = still_of((1500, 1000))

    def noted() -> None:
        for _ in range(STILLS):
            read_head("a.jpg", len(raw), [Slice(0, raw[:262144])])

    def taken_in() -> None:
        for number in range(STILLS // 10):
            uid = f"bench-{number}"
            keep_still(shoot, uid, f"B{number:04}.jpg", read_preview(raw, "a.jpg", COPY_PX))
        TakePicture.objects.filter(uid__startswith="bench-").delete()

    notes_ms = _each(noted, 1)
    stills_ms = [10 * one for one in _each(taken_in, 1)]

    def framed() -> None:
        read_preview(raw, "a.jpg")
        look_at(raw, "a.jpg")

    frame_ms = _each(framed, scale.rounds(7, 1))
    peak = subprocess.run(
        [sys.executable, "-c", _LOOK], input=raw, capture_output=True, check=True
    )  # fmt: skip
    run_ms, linear = _run(shoot, small, Take, FrameSeen, see_some, keep_still, read_preview)
    client = Client(HTTP_HOST="127.0.0.1")
    client.force_login(shoot.owner)
    frames = TakePicture.objects.filter(shoot=shoot, uid__startswith="frame-")
    row = reverse("row", args=[shoot.pk])
    asked = "&".join(f"p={one.pk}" for one in frames)
    own = Take.objects.get(shoot=shoot, uid="demo-1")
    third = Take.objects.get(shoot=shoot, uid="demo-6")
    pages = (
        f"{row}?{asked}", reverse("run", args=[shoot.pk, own.pk]),
        reverse("setup-takes", args=[shoot.pk, third.setup_key]),
    )  # fmt: skip
    row_ms, page_ms, setup_ms = (
        _each(partial(client.get, at), scale.rounds(12))[1:] for at in pages
    )
    return Home(
        notes_ms, stills_ms, frame_ms, float(peak.stdout), run_ms, linear, row_ms, page_ms, setup_ms
    )


def _run(
    shoot: Any, small: bytes, takes: Any, seen: Any, see_some: Any, keep: Any, read: Any
) -> Any:
    """A run of 700 previews looked through, and the cost of a frame against a half of it."""
    from django.utils import timezone

    from fotonomy.field.models import TakePicture

    found = read(small, "a.jpg", 480)
    take = takes.objects.create(
        shoot=shoot, uid="bench-run", setup_key=0, setup_name="bench", number=1, verdict="good",
        at=timezone.now(), kept_at=timezone.now(),
    )  # fmt: skip
    take.shoot = shoot
    cost = {}
    for count in (HALF_RUN, RUN):
        for number in range(TakePicture.objects.filter(take_uid="bench-run").count(), count):
            taken = f"2027-06-05T08:{number // 60:02}:{number % 60:02}"
            wrote = {**found.wrote, "taken": taken}
            row = keep(shoot, f"bench-run-{number}", f"R{number:04}.jpg", found)
            TakePicture.objects.filter(pk=row.pk).update(take_uid="bench-run", wrote=wrote)
        seen.objects.filter(picture__take_uid="bench-run").delete()
        start = time.perf_counter()
        while True:
            done, of = see_some(take)
            if done == of:
                break
        cost[count] = 1000 * (time.perf_counter() - start)
    TakePicture.objects.filter(take_uid="bench-run").delete()
    take.delete()
    return [cost[RUN]], (cost[RUN] / RUN) / (cost[HALF_RUN] / HALF_RUN)


def checks(home: Home, percentile: Any) -> list[tuple[str, list[float], str, bool]]:
    """The rows of the table."""
    return [
        (f"What cameras noted in {STILLS} stills", home.notes_ms, "under 10 s",
         max(home.notes_ms) < 10_000),
        (f"{STILLS} stills of 24 megapixels taken in with their copies (fifty, times ten)",
         home.stills_ms, "–", True),
        ("A test frame of 24 megapixels: copy, noise, sharpness, points", home.frame_ms,
         "p95 under 1 s", percentile(home.frame_ms, 95) < 1000),
        (f"A run of {RUN} frames looked through", home.run_ms, "under 20 s",
         max(home.run_ms) < 20_000),
        ("Pictures side by side, the page", home.row_ms, "p95 under 200 ms",
         percentile(home.row_ms, 95) < 200),
        ("A run of 250 frames, the page", home.run_page_ms, "p95 under 200 ms",
         percentile(home.run_page_ms, 95) < 200),
        ("One setup with its takes, the page", home.setup_ms, "p95 under 200 ms",
         percentile(home.setup_ms, 95) < 200),
    ]  # fmt: skip


def lines(home: Home) -> list[str]:
    """What stands under the table."""
    return [
        f"- Looking at a test frame of 24 megapixels takes a process to {home.frame_mb:.0f} MB at most "
        f"(limit: 400; {'met' if home.frame_mb < 400 else '**missed**'}). A frame of a run of {RUN} "
        f"costs {home.linear:.2f} times one of a run of {HALF_RUN} (limit: 1.3; "
        f"{'met' if home.linear < 1.3 else '**missed**'}).",
    ]
