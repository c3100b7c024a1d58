"""Through the door people use: the real server, its limits, and more than one process."""

import gc
import os
import signal
import socket
import time
import urllib.request
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from io import BytesIO
from pathlib import Path
from threading import Barrier, Thread
from typing import Any
from urllib.parse import urlparse

import cv2
import numpy as np
import pytest
from lxml import html
from PIL import Image

from benchmarks.measures import environment_in, served
from fotonomy.exchange.pictures import write_png
from fotonomy.site import serve
from fotonomy.web import long_work, memory
from soak.person import Person
from tests.web.test_pictures import photo
from tools.kept_demo import fill

HERE = Path(__file__).parents[2]


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The server of ``make demo`` with two processes, on a database of its own."""
    folder = tmp_path_factory.mktemp("served")
    environment = {**environment_in(folder), "FOTONOMY_WORKERS": "2"}
    before = dict(os.environ)
    os.environ |= environment
    fill(folder)
    try:
        with served() as (found, _):
            yield found
    finally:
        os.environ.clear()
        os.environ.update(before)


@pytest.fixture
def person(address: str) -> Person:
    someone = Person(address)
    someone.enter_demo()
    return someone


def noisy(seed: int) -> bytes:
    """A frame of 1920 x 1080 in 16 bits, full of noise: about four megabytes."""
    chance = np.random.default_rng(seed)
    fall = np.linspace(6000, 24_000, 1920)[None, :].repeat(1080, 0)
    return write_png(np.clip(chance.normal(fall, np.sqrt(fall) * 24), 0, 65_535).astype(np.uint16))


def calibration_of(person: Person) -> str:
    page = html.fromstring(person.get("/kit/").text)
    body = page.xpath("//section[@id='body']//a[contains(@class, 'thing-name')]/@href")[0]
    return f"{body}calibrate/"


def test_the_frames_the_page_asks_for_are_taken(person: Person) -> None:
    frames = {f"{name}-1": (f"{name}.png", noisy(k)) for k, name in enumerate(("first", "second"))}
    assert all(len(raw) > 3_500_000 for _, raw in frames.values())
    answer = person.upload(calibration_of(person), {"iso-1": "500", "profile": "Flat log"}, frames)
    assert "Save for" in answer.text, html.fromstring(answer.text).text_content()[:2000]
    assert answer.status == 200


def test_a_table_of_the_most_rows_is_taken(person: Person) -> None:
    x = np.linspace(0, 8, 65_536)
    rows = "\n".join(f"{a:.9f},{b:.9f}" for a, b in zip(x, np.log2(1 + 6 * x) / 6, strict=True))
    page = html.fromstring(person.get("/kit/profile/new/").text)
    name = page.xpath("//input[@type='file']/@name")[0]
    fields = {"name": "Long table", "curve": "table", "clip_percent": "90", "scale": "legal",
              "bits": "10"}  # fmt: skip
    answer = person.upload("/kit/profile/new/", fields, {name: ("t.csv", rows.encode())})
    errors = html.fromstring(answer.text or "<p>").xpath("//*[contains(@class, 'error')]")
    assert answer.status == 302, [one.text_content() for one in errors]


def test_a_setup_file_over_its_limit_is_refused_by_the_program_and_in_words(person: Person) -> None:
    bench = person.bench_of("4B")
    shoot = bench.rsplit("/", 2)[0]
    big = b'{"x": "' + b"a" * (4 * 2**20) + b'"}'
    answer = person.upload(f"{shoot}/setups/import/", {}, {"file": ("big.json", big)})
    assert answer.status == 302
    assert "is larger than 4096 kB" in person.get(bench).text


def test_bombs_are_refused_before_they_are_unpacked(person: Person) -> None:
    made = BytesIO()
    Image.fromarray(np.zeros((6000, 6000), dtype=np.uint16)).save(made, "PNG", compress_level=9)
    bomb = made.getvalue()
    assert len(bomb) < 200_000
    names = [f"{which}-{k}" for k in range(1, 5) for which in ("first", "second")]
    fields = {f"iso-{k}": "500" for k in range(1, 5)} | {"profile": "Flat log"}
    answer = person.upload(calibration_of(person), fields, dict.fromkeys(names, ("b.png", bomb)))
    assert answer.status == 422
    assert answer.text.count("unpacks to far more than its size") == 4


def test_a_photograph_of_a_phone_is_kept_with_a_take(person: Person) -> None:
    """Twelve megapixels, as phones save them: through the server that people use."""
    bench = person.bench_of("5A")
    shoot, key = bench.rstrip("/").rsplit("/", 1)
    fields = {"uid": "photo-1", "verdict": "good", "picture_uid": "p-1"}
    raw = photo(4032, 3024)
    assert len(raw) > 5_000_000
    answer = person.upload(f"{shoot}/field/{key}/take/", fields, {"picture": ("phone.jpg", raw)})
    assert answer.status == 302
    left = person.get(person.get(f"{shoot}/field/").location or "").text
    assert "5A Launch" in left
    page = html.fromstring(person.get(f"{shoot}/takes/").text)
    setup = page.xpath("//ol[@class='actual-lines']//a[contains(., '5A Launch')]/@href")[0]
    page = html.fromstring(person.get(setup).text)
    take = page.xpath("//section[@class='take-block']//h2/a/@href")[0]
    assert "4032 × 3024 px" in person.get(take).text


def test_more_than_anything_asked_for_is_refused_with_a_page(person: Person) -> None:
    answer = person.upload(
        calibration_of(person), {"iso-1": "500"}, {"first-1": ("f.png", bytes(134 * 2**20))}
    )
    assert answer.status == 413
    assert "All files sent at once may come to 132 MB" in answer.text


def test_the_largest_form_of_the_program_is_taken(person: Person) -> None:
    bench = person.bench_of("2A")
    for _ in range(24):
        person.post(bench, {"reading_add": "other"}, X_Fotonomy_Fragment="wide")
    page = html.fromstring(person.get(f"{bench}?open=level").text)
    fields: dict[str, list[str]] = {}
    for name, value in page.xpath("//form[@id='bench']")[0].form_values():
        fields.setdefault(name, []).append(value)
    assert sum(map(len, fields.values())) > 300
    assert sum(name.endswith("-stops") and name.startswith("reading-") for name in fields) == 24
    fields["reading-23-stops"] = ["+2"]
    assert person.post(bench, fields).status == 302
    assert person.setup(bench)["setup"]["readings"][23]["stops"] == 2
    # And beyond any form there is a page with words.
    answer = person.post(bench, {f"x{k}": "1" for k in range(2500)})
    assert answer.status == 400
    assert "more fields than any of its pages has" in answer.text


def test_two_processes_lose_nothing_between_them(address: str) -> None:
    bench = ""
    people = []
    for _ in range(4):
        someone = Person(address)
        someone.enter_demo()
        bench = bench or someone.bench_of("1A")
        people.append(someone)
    fields = ("temperature_c", "start_after_s", "star_px", "self_timer_s")

    def edit(k: int) -> int:
        good = 0
        for value in range(2, 14):
            answer = people[k].post(bench, {fields[k]: str(value)}, X_Fotonomy_Fragment="wide")
            good += answer.status == 200
        return good

    with ThreadPoolExecutor(4) as threads:
        assert list(threads.map(edit, range(4))) == [12] * 4
    run = people[0].setup(bench)["setup"]["run"]
    assert [run[name] for name in fields] == [13, 13, 13, 13]


def test_a_process_that_dies_is_replaced(address: str) -> None:
    port = address.rsplit(":", 1)[1]
    found = []
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            words = (folder / "cmdline").read_bytes().split(b"\0")
            mine = f"FOTONOMY_PORT={port}".encode() in (folder / "environ").read_bytes().split(
                b"\0"
            )
        except OSError:
            continue
        if mine and b"fotonomy.site.serve" in words:
            found.append(int(folder.name))
    # The first one watches, the others answer.
    assert len(found) == 3
    os.kill(max(found), signal.SIGKILL)
    for _ in range(8):
        with urllib.request.urlopen(f"{address}/log-in/", timeout=20) as answer:
            assert answer.status == 200


def frame_of_64_mb() -> bytes:
    """A grey frame of 8K in 16 bits, unpacked: 63.3 MB."""
    small = cv2.imdecode(np.frombuffer(noisy(3), np.uint8), cv2.IMREAD_UNCHANGED)
    done, raw = cv2.imencode(".tiff", np.tile(small, (4, 4)), [cv2.IMWRITE_TIFF_COMPRESSION, 1])
    assert done
    assert 63 * 2**20 < len(raw) < 64 * 2**20
    return bytes(raw)


def test_two_frames_of_64_mb_are_taken_and_a_larger_one_is_not(person: Person) -> None:
    frame, page = frame_of_64_mb(), calibration_of(person)
    frames = {"first-1": ("a.tif", frame), "second-1": ("b.tif", frame)}
    answer = person.upload(page, {"iso-1": "500", "profile": "Flat log"}, frames)
    # Twice the same picture has no noise between its two takes: measured, and said.
    assert answer.status in (200, 422)
    said = " ".join(html.fromstring(answer.text).xpath("//main")[0].text_content().split())
    assert "larger than 64 MB" not in said
    assert "the same" in said or "Save for" in said, said
    frames["first-1"] = ("a.tif", frame + bytes(2**20))
    answer = person.upload(page, {"iso-1": "500", "profile": "Flat log"}, frames)
    assert answer.status == 422
    assert "a.tif: larger than 64 MB" in answer.text


def talked(address: str, raw: bytes) -> bytes:
    """Everything the server says to these bytes, until it hangs up."""
    where = urlparse(address)
    with socket.create_connection((where.hostname, where.port), timeout=10) as line:
        line.sendall(raw)
        said = b""
        # It may hang up while there is more to read.
        with suppress(ConnectionResetError):
            while block := line.recv(65_536):
                said += block
    return said


def test_a_head_with_a_body_is_answered_without_one_and_the_line_goes_on(address: str) -> None:
    said = talked(
        address,
        b"HEAD /log-in/ HTTP/1.1\r\nHost: localhost\r\nContent-Length: 5\r\n\r\nhello"
        b"GET /health/ HTTP/1.1\r\nHost: localhost\r\nConnection: close\r\n\r\n",
    )
    head, rest = said.split(b"\r\n\r\n", 1)
    assert head.startswith(b"HTTP/1.1 200")
    # No body: the next answer follows at once.
    assert rest.startswith(b"HTTP/1.1 200")
    assert b'"database": "ok"' in rest


@pytest.mark.parametrize(
    "raw",
    [b"\x00\xff\xfe\r\n\r\n", b"GET / HTTP/9.9\r\n\r\n", b"GET " + b"a" * 300_000 + b" HTTP/1.1\r\n\r\n",
     b"POST /log-in/ HTTP/1.1\r\nHost: localhost\r\nContent-Length: -5\r\nConnection: close\r\n\r\n",
     b"POST /log-in/ HTTP/1.1\r\nHost: localhost\r\nTransfer-Encoding: odd\r\nConnection: close\r\n\r\n"],
)  # fmt: skip
def test_nonsense_at_the_socket_is_refused(address: str, raw: bytes) -> None:
    said = talked(address, raw)
    assert said == b"" or 400 <= int(said.split()[1]) <= 501
    assert b"Traceback" not in said


def test_where_too_much_long_work_waits_the_next_stands_in_line(
    demo_client: Any, adze: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    line = long_work.Line(places=1)
    monkeypatch.setattr(long_work, "_here", line)
    plans = f"{adze.get_absolute_url()}plans/"
    assert demo_client.get(plans).status_code == 200
    other = line.enter("somebody else")
    with line.turn(other):
        busy = demo_client.get(plans)
        assert (busy.status_code, busy["Retry-After"]) == (503, "5")
        assert busy[long_work.AHEAD_HEADER] == "0"
        words = " ".join(busy.content.decode().split())
        assert "In the line before you: 0 people." in words
        assert '<meta http-equiv="refresh" content="5">' in words
        # A change waits for nothing.
        assert demo_client.post(adze.get_absolute_url(), {"iris": "f/8"}).status_code == 302
        # A press is not repeated by itself.
        pressed = demo_client.post(f"{adze.get_absolute_url()}dry-run/", {"fix": "x"})
        assert pressed.status_code == 503
        assert "try again in a few seconds" in pressed.content.decode()
        assert "refresh" not in pressed.content.decode()
    line.leave(other)
    assert demo_client.get(plans).status_code == 200
    assert long_work.MOST_WAITING <= serve.THREADS / 2


def test_a_person_has_a_share_of_the_places(
    demo_client: Any, adze: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    line = long_work.Line()
    monkeypatch.setattr(long_work, "_here", line)
    mine = [line.enter(adze.shoot.owner_id) for _ in range(long_work.SHARE)]
    busy = demo_client.get(f"{adze.get_absolute_url()}plans/")
    assert busy.status_code == 503
    assert "Three things of yours are being worked out already" in busy.content.decode()
    line.leave(mine[0])
    assert demo_client.get(f"{adze.get_absolute_url()}plans/").status_code == 200


def test_whoever_came_first_to_the_line_has_the_next_place() -> None:
    now = [0.0]
    line = long_work.Line(places=2, share=2, clock=lambda: now[0])
    inside = [line.enter("a"), line.enter("b")]

    def ahead(person: str) -> int | None:
        with pytest.raises(long_work.BusyError) as busy:
            line.enter(person)
        return busy.value.ahead

    assert [ahead(one) for one in "cdc"] == [0, 1, 0]
    line.leave(inside[0])
    # The place is that of the first: the second and a newcomer wait on.
    assert (ahead("d"), ahead("e"), ahead("a")) == (1, 2, 3)
    inside.append(line.enter("c"))
    assert ahead("d") == 0
    line.leave(inside[1])
    line.enter("d")
    # Who was not heard of for long has left the line.
    assert (ahead("e"), ahead("a")) == (0, 1)
    now[0] = long_work.GONE_AFTER_S - 1
    assert ahead("a") == 1
    now[0] = long_work.GONE_AFTER_S
    assert ahead("a") == 0


def test_turns_go_round_among_people() -> None:
    """Two requests of one person and one of another: the other one is second, not third."""
    line, order, started = long_work.Line(), list[str](), Barrier(4)
    first = line.enter("me")

    def work(ticket: long_work.Ticket) -> None:
        started.wait()
        with line.turn(ticket):
            order.append(str(ticket.person))
        line.leave(ticket)

    with line.turn(first):
        threads = [
            Thread(target=work, args=(line.enter(who),)) for who in ("me", "you", "them")
        ]  # fmt: skip
        for thread in threads:
            thread.start()
        started.wait()
        while sum(one.waits for one in line._inside) < 3:
            time.sleep(0.001)
    for thread in threads:
        thread.join(10)
    assert order[-1] == "me"
    assert sorted(order) == ["me", "them", "you"]


def test_a_stream_has_its_place_until_it_ends(
    demo_client: Any, demo: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    line = long_work.Line()
    monkeypatch.setattr(long_work, "_here", line)
    address = f"/shoots/{demo.pk}/day/{demo.first_day.pk}/arrange/go/"
    read, dropped, forgotten = (demo_client.get(address) for _ in range(long_work.SHARE))
    assert len(line._inside) == long_work.SHARE
    assert demo_client.get(address).status_code == 503
    b"".join(read.streaming_content)
    assert len(line._inside) == 2
    del forgotten
    gc.collect()
    assert len(line._inside) == 1
    dropped.close()
    assert line._inside == []


def test_a_fault_gives_its_place_back(demo_client: Any, adze: Any, monkeypatch: Any) -> None:
    line = long_work.Line()
    monkeypatch.setattr(long_work, "_here", line)
    monkeypatch.setattr("fotonomy.shoots.views.planner.setup_for", lambda *_: 1 / 0)
    demo_client.raise_request_exception = False
    for _ in range(3):
        assert demo_client.get(f"{adze.get_absolute_url()}plans/").status_code == 500
    assert line._inside == []


def test_a_turn_that_does_not_come_is_said(monkeypatch: pytest.MonkeyPatch) -> None:
    line = long_work.Line()
    busy, mine = line.enter("a"), line.enter("b")
    with line.turn(busy), pytest.raises(long_work.BusyError), line.turn(mine, 0.01):
        pass
    line.leave(busy)
    with line.turn(mine, 0.01):
        pass


@pytest.mark.parametrize(("behind", "status"), [("on", 200), ("off", 301)])
def test_behind_a_proxy_https_is_believed_and_else_it_is_not(
    tmp_path: Path, behind: str, status: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    """The production settings at the real server, asked as a proxy and the image's check ask."""
    production = {
        **environment_in(tmp_path), "DJANGO_SETTINGS_MODULE": "fotonomy.site.settings.production",
        "FOTONOMY_BEHIND_PROXY": behind, "FOTONOMY_HOSTS": "plan.example.org,127.0.0.1",
        "FOTONOMY_SECRET_KEY": "k7!" + "abcdefghijklmnopqrstuvwxyz0123456789" * 2,
    }  # fmt: skip
    for name, value in production.items():
        monkeypatch.setenv(name, value)
    fill(tmp_path)
    with served() as (address, _):
        said = talked(
            address,
            b"GET /health/ HTTP/1.1\r\nHost: plan.example.org\r\nX-Forwarded-Proto: https\r\n"
            b"Connection: close\r\n\r\n",
        )
        assert int(said.split()[1]) == status
        plain = talked(
            address, b"GET /health/ HTTP/1.1\r\nHost: plan.example.org\r\nConnection: close\r\n\r\n"
        )
        assert b"Location: https://plan.example.org/health/" in plain


def test_memory_is_given_back_now_and_then(monkeypatch: pytest.MonkeyPatch) -> None:
    """On glibc; elsewhere nothing is done, and nothing breaks."""
    trimmed = list[int]()

    class Libc:
        @staticmethod
        def mallopt(what: int, value: int) -> int:
            return int((what, value) == (-8, memory.POOLS))

        @staticmethod
        def malloc_trim(pad: int) -> int:
            trimmed.append(pad)
            return 1

    monkeypatch.setattr(memory.ctypes, "CDLL", lambda _: Libc)
    monkeypatch.setattr(memory, "_last", [float("-inf")])
    assert memory.few_pools()
    assert [memory.give_back(at) for at in (0.0, memory.EVERY_S - 0.1, memory.EVERY_S)] == [
        True, False, True,
    ]  # fmt: skip
    assert len(trimmed) == 2
    monkeypatch.setattr(memory.ctypes, "CDLL", lambda _: object())
    assert (memory.few_pools(), memory.give_back(1e9)) == (False, False)
