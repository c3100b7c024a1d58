"""Backups, health, names of requests, doors that lock, and leaving."""

import json
import os
import sqlite3
import subprocess
import sys
import zipfile
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.contrib.auth.hashers import check_password, identify_hasher, make_password
from django.contrib.sessions.models import Session
from django.db import OperationalError
from django.test import Client

from fotonomy.demo.loader import DEMO_USER
from fotonomy.kit.models import Body
from fotonomy.shoots.models import Change, Setup, Shoot
from fotonomy.site.file_permissions import keep_private
from tools.kept_demo import fill

HERE = Path(__file__).parents[2]


def manage(folder: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    environment = {**os.environ, "FOTONOMY_DATA_DIR": str(folder),
                   "DJANGO_SETTINGS_MODULE": "fotonomy.site.settings.demo"}  # fmt: skip
    return subprocess.run(
        [sys.executable, "manage.py", *arguments], cwd=HERE, capture_output=True, text=True,
        check=False, env=environment,
    )  # fmt: skip


def dump_of(folder: Path) -> dict[str, list[Any]]:
    """Every row of every table, by table."""
    base = sqlite3.connect(folder / "fotonomy.sqlite3")
    names = [n for (n,) in base.execute("SELECT name FROM sqlite_master WHERE type = 'table'")]
    found = {name: sorted(base.execute(f'SELECT * FROM "{name}"'), key=repr) for name in names}
    base.close()
    return found


@pytest.fixture(scope="module")
def place(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A place with the demo and a backup of it."""
    if os.environ.get("FOTONOMY_DATABASE_URL"):
        pytest.skip("PostgreSQL has backups of its own")
    folder = tmp_path_factory.mktemp("place")
    fill(folder)
    made = manage(folder, "backup", str(folder / "season.zip"))
    assert made.returncode == 0, made.stderr
    assert "checksum" in made.stdout
    return folder


def test_a_backup_comes_back_object_for_object(place: Path, tmp_path: Path) -> None:
    came = manage(tmp_path, "restore", str(place / "season.zip"))
    assert came.returncode == 0, came.stderr
    there, here = dump_of(place), dump_of(tmp_path)
    assert there["shoots_setup"]
    assert here == there


def test_what_is_there_is_replaced_only_when_asked(place: Path, tmp_path: Path) -> None:
    fill(tmp_path)
    before = dump_of(tmp_path)
    refused = manage(tmp_path, "restore", str(place / "season.zip"))
    assert refused.returncode != 0
    assert "say --replace" in refused.stderr
    assert dump_of(tmp_path) == before
    assert manage(tmp_path, "restore", str(place / "season.zip"), "--replace").returncode == 0
    assert dump_of(tmp_path)["auth_user"] == dump_of(place)["auth_user"]


def flipped(source: Path, target: Path) -> None:
    """The same archive with one byte of the database changed, and sound as an archive."""
    with zipfile.ZipFile(source) as archive, zipfile.ZipFile(target, "w") as other:
        for name in archive.namelist():
            raw = bytearray(archive.read(name))
            if name.endswith("sqlite3"):
                raw[len(raw) // 2] ^= 0xFF
            other.writestr(name, bytes(raw))


def altered(source: Path, target: Path, folder: Path) -> None:
    """The same archive with one value of the database changed: sound to SQLite, not what it was."""
    with zipfile.ZipFile(source) as archive, zipfile.ZipFile(target, "w") as other:
        base = Path(archive.extract("fotonomy.sqlite3", folder))
        changed = sqlite3.connect(base)
        changed.execute("UPDATE shoots_setup SET iso = 6400 WHERE code = '4B'")
        changed.commit()
        changed.close()
        other.write(base, "fotonomy.sqlite3")
        other.writestr("manifest.json", archive.read("manifest.json"))


@pytest.mark.parametrize("harm", ["flipped", "altered", "cut", "text", "missing", "empty"])
def test_a_damaged_backup_changes_nothing(place: Path, tmp_path: Path, harm: str) -> None:
    whole, bad = place / "season.zip", tmp_path / "bad.zip"
    match harm:
        case "flipped":
            flipped(whole, bad)
        case "altered":
            altered(whole, bad, tmp_path)
        case "cut":
            bad.write_bytes(whole.read_bytes()[:-4000])
        case "text":
            bad.write_text("a season of work")
        case "empty":
            bad.write_bytes(b"")
    folder = tmp_path / "fresh"
    folder.mkdir()
    refused = manage(folder, "restore", str(bad))
    assert refused.returncode != 0
    assert "Nothing was changed" in refused.stderr
    assert "Traceback" not in refused.stderr


def test_data_and_secrets_are_for_the_owner_alone(place: Path, tmp_path: Path) -> None:
    for name in ("fotonomy.sqlite3", "secret_key", "season.zip"):
        assert (place / name).stat().st_mode & 0o077 == 0, name
    old = tmp_path / "secret_key"
    old.write_text("x")
    old.chmod(0o644)
    mask = os.umask(0o022)
    try:
        keep_private(tmp_path)
    finally:
        os.umask(mask)
    assert old.stat().st_mode & 0o777 == 0o600


def test_health_writes_and_reads(client: Any, db: None, monkeypatch: pytest.MonkeyPatch) -> None:
    answer = client.get("/health/")
    said = answer.json()
    assert (answer.status_code, said["ok"], said["database"]) == (200, True, "ok")
    assert said["version"]

    def full(*_: Any, **__: Any) -> None:
        raise OperationalError("database or disk is full")

    monkeypatch.setattr("django.contrib.sessions.models.Session.objects.update_or_create", full)
    answer = client.get("/health/")
    assert (answer.status_code, answer.json()["database"]) == (503, "database or disk is full")


def test_a_fault_bears_the_name_it_has_in_the_log(
    demo_client: Any, adze: Setup, monkeypatch: pytest.MonkeyPatch, caplog: Any
) -> None:
    demo_client.raise_request_exception = False

    def trip(*_: Any, **__: Any) -> None:
        raise RuntimeError("tripped")

    monkeypatch.setattr("fotonomy.shoots.views.bench.bench_view", trip)
    answer = demo_client.get(adze.get_absolute_url())
    assert answer.status_code == 500
    name = answer["X-Request-ID"]
    assert f"<code>{name}</code>" in answer.content.decode()
    assert "tripped" not in answer.content.decode()


def test_a_full_disk_is_said_and_reading_goes_on(
    demo_client: Any, adze: Setup, monkeypatch: pytest.MonkeyPatch
) -> None:
    def full(*_: Any, **__: Any) -> None:
        raise OperationalError("database or disk is full")

    with monkeypatch.context() as patch:
        patch.setattr("fotonomy.shoots.history.record", full)
        answer = demo_client.post(adze.get_absolute_url(), {"iris": "f/8"})
        assert answer.status_code == 507
        assert "The disk is full" in answer.content.decode()
        assert demo_client.get(adze.get_absolute_url()).status_code == 200
    adze.refresh_from_db()
    assert adze.iris == 4.0


def test_pages_of_a_person_stay_out_of_shared_caches(demo_client: Any, adze: Setup) -> None:
    answer = demo_client.get(adze.get_absolute_url())
    assert answer["Cache-Control"] == "private, no-cache"
    assert "geolocation=()" in answer["Permissions-Policy"]


def test_passwords_are_kept_by_argon2_and_old_ones_still_open(settings: Any) -> None:
    from fotonomy.site.settings import base

    settings.PASSWORD_HASHERS = base.PASSWORD_HASHERS
    kept = make_password("slack-water-7")
    assert kept.startswith("argon2$argon2id$v=19$m=19456,t=2,p=1$")
    assert check_password("slack-water-7", kept)
    assert not check_password("slack-water-8", kept)
    old = make_password("slack-water-7", hasher="pbkdf2_sha256")
    assert check_password("slack-water-7", old)
    assert identify_hasher(old).algorithm == "pbkdf2_sha256"


@pytest.mark.parametrize("name", ["Stranger", "strаnger", "ſtranger", "ｓtranger"])
def test_names_that_look_like_anothers_are_refused(client: Any, stranger: Any, name: str) -> None:
    """Capitals, a Cyrillic a, a long s, a full-width s."""
    answer = client.post(
        "/sign-up/", {"username": name, "password1": "slack-7-water", "password2": "slack-7-water"}
    )
    assert answer.status_code == 200
    assert not get_user_model().objects.filter(username=name).exists()


def test_a_name_taken_at_the_same_moment_is_an_error_beside_the_field(
    client: Any, db: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    from django.db import IntegrityError

    def taken(*_: Any, **__: Any) -> None:
        raise IntegrityError("UNIQUE constraint failed: auth_user.username")

    monkeypatch.setattr("fotonomy.site.views.give_starter_kit", taken)
    sent = {"username": "rigger", "password1": "slack-7-water", "password2": "slack-7-water"}
    answer = client.post("/sign-up/", sent)
    assert answer.status_code == 200
    assert "already exists" in answer.content.decode()
    assert not get_user_model().objects.filter(username="rigger").exists()


def test_leaving_takes_everything_along(client: Any, demo: Shoot, stranger: Any) -> None:
    """A person with setups, history and gear that holds on to them; nobody else is touched."""
    others = (
        Setup.objects.count(), Body.objects.exclude(owner=stranger).count(), Change.objects.count(),
    )  # fmt: skip
    client.force_login(stranger)
    key = str(stranger.pk)
    client.post("/shoots/new/", {"name": "Net shed", "date": "2027-03-02", "time_zone": "UTC",
                                 "mains_hz": "50", "project_fps": "25", "latitude_deg": "0",
                                 "longitude_deg": "0"})  # fmt: skip
    shoot = Shoot.objects.get(name="Net shed")
    client.post(f"/shoots/{shoot.pk}/setups/new/")
    client.post(shoot.setups.get().get_absolute_url(), {"iris": "f/8"})
    assert "not the password" in client.post("/account/", {"password": "no"}).content.decode()
    assert shoot.setups.count() == 1
    Client().post("/log-in/", {"username": "stranger", "password": "quay-side-42"})
    answer = client.post("/account/", {"password": "quay-side-42"}, follow=True)
    assert not [s for s in Session.objects.all() if s.get_decoded().get("_auth_user_id") == key]
    assert "are removed" in answer.content.decode()
    assert not get_user_model().objects.filter(username="stranger").exists()
    assert (Setup.objects.count(), Body.objects.count(), Change.objects.count()) == others
    assert client.get("/shoots/").status_code == 302


def test_the_demos_account_stays(demo_client: Any, demo: Shoot) -> None:
    assert "The demo&#x27;s account stays" in demo_client.post(
        "/account/", {"password": "x"}
    ).content.decode().replace("'", "&#x27;")
    assert get_user_model().objects.filter(username=DEMO_USER).exists()


def test_lines_of_the_log_are_json_with_the_name(settings: Any) -> None:
    import logging

    from pythonjsonlogger.json import JsonFormatter

    from fotonomy.site.settings import base
    from fotonomy.web.log import WithRequestId, present_id

    made = base.LOGGING["formatters"]["lines"]  # type: ignore[index]
    formatter = JsonFormatter(made["format"], rename_fields=made["rename_fields"])
    record = logging.LogRecord("fotonomy.access", logging.INFO, "", 1, "request", (), None)
    present_id.set("abc123")
    WithRequestId().filter(record)
    line = json.loads(formatter.format(record))
    assert (line["from"], line["level"], line["request_id"]) == (
        "fotonomy.access",
        "INFO",
        "abc123",
    )


def harmed(folder: Path, harm: str) -> Path:
    """The database of a place, damaged in one of the ways that disks and people have."""
    path = folder / "fotonomy.sqlite3"
    base = sqlite3.connect(path)
    base.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    (size,) = base.execute("PRAGMA page_size").fetchone()
    table = "django_session" if harm == "sessions" else "auth_user"
    (root,) = base.execute("SELECT rootpage FROM sqlite_master WHERE name = ?", [table]).fetchone()
    base.close()
    raw = bytearray(path.read_bytes())
    if harm == "header":
        raw[:100] = b"x" * 100
    elif harm == "cut":
        raw = raw[: len(raw) // 2]
    else:
        raw[(root - 1) * size : root * size] = b"\xa5" * size
    path.write_bytes(bytes(raw))
    return path


@pytest.mark.parametrize("harm", ["header", "cut", "people", "sessions"])
def test_a_damaged_database_is_said_and_put_right(place: Path, tmp_path: Path, harm: str) -> None:
    fill(tmp_path)
    path = harmed(tmp_path, harm)
    kept = path.read_bytes()
    refused = manage(tmp_path, "backup", str(tmp_path / "b.zip"))
    assert refused.returncode != 0
    assert "No backup was made: the database" in refused.stderr
    assert "damaged" in refused.stderr
    assert "Traceback" not in refused.stderr
    assert not (tmp_path / "b.zip").exists()
    asked = manage(tmp_path, "restore", str(place / "season.zip"))
    assert "say --replace" in asked.stderr or harm in ("cut", "sessions")
    assert path.read_bytes()[100:] == kept[100:] or harm in ("cut", "sessions")
    came = manage(tmp_path, "restore", str(place / "season.zip"), "--replace")
    assert came.returncode == 0, came.stderr
    assert dump_of(tmp_path)["shoots_setup"] == dump_of(place)["shoots_setup"]


LOOK = """
import os, django
django.setup()
from django.test import Client
client = Client(raise_request_exception=False, SERVER_NAME="localhost")
page = client.get("/log-in/")
form = {"username": "demo", "password": "guess"}
answer = client.post("/log-in/", form)
shoots = client.get("/shoots/")
for one in (page, answer, shoots):
    title = one.content.decode().partition("<h1>")[2].partition("</h1>")[0]
    print(one.status_code, " ".join(title.split()))
"""


def look(folder: Path) -> list[str]:
    """What pages a server shows that stands on a place: the door, a log-in, the shoots."""
    environment = {**os.environ, "FOTONOMY_DATA_DIR": str(folder),
                   "DJANGO_SETTINGS_MODULE": "fotonomy.site.settings.demo"}  # fmt: skip
    ran = subprocess.run(
        [sys.executable, "-c", LOOK], cwd=HERE, capture_output=True, text=True, check=True,
        env=environment,
    )  # fmt: skip
    return ran.stdout.strip().splitlines()


@pytest.mark.parametrize("harm", ["header", "people"])
def test_the_door_of_a_damaged_database_says_so(place: Path, tmp_path: Path, harm: str) -> None:
    fill(tmp_path)
    harmed(tmp_path, harm)
    shown = look(tmp_path)
    assert shown[1] == "503 The data is damaged"
    assert not any("500" in one for one in shown)


def test_a_database_that_may_not_be_written_says_so(
    demo_client: Any, adze: Setup, monkeypatch: pytest.MonkeyPatch
) -> None:
    def refuse(*_: Any, **__: Any) -> None:
        raise OperationalError("attempt to write a readonly database")

    demo_client.raise_request_exception = False
    monkeypatch.setattr("fotonomy.shoots.editing.apply.history.record", refuse)
    answer = demo_client.post(adze.get_absolute_url(), {"iris": "f/8"})
    assert answer.status_code == 503
    assert "Nothing can be written" in answer.content.decode()
    assert demo_client.get(adze.get_absolute_url()).status_code == 200
