"""The drill's pages: asked, graded, kept once, due again; own setups, takes, what is taken along."""

import json
import os
import subprocess
import sys
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from lxml import html

from fotonomy.core.drill.answers import Order, Settings
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import exercise
from fotonomy.core.drill.grading import Mark
from fotonomy.core.drill.lessons import LESSONS
from fotonomy.core.drill.offline_rules import rules_for
from fotonomy.drill.models import Answer, Skill
from fotonomy.drill.services import keep_answer, next_of, streak_of
from fotonomy.field.models import Take
from fotonomy.shoots.models import Setup, Shoot
from tests.core.test_drill import right_guess

HERE = Path(__file__).parents[2]
NOW = datetime(2027, 6, 5, 10, 0, tzinfo=UTC)


def at(kind: ExerciseKind, level: int = 1, seed: int = 7) -> str:
    """The address of an exercise."""
    return reverse("drill-exercise", args=[kind.value, level, seed])


def page_of(answer: Any) -> Any:
    """A page that came."""
    assert answer.status_code in (200, 422), answer.status_code
    return html.fromstring(answer.content.decode())


def text_of(node: Any) -> str:
    return " ".join(node.text_content().split())


@pytest.mark.parametrize("kind", list(ExerciseKind))
def test_every_kind_is_asked_graded_and_explained(demo_client: Any, kind: ExerciseKind) -> None:
    asked = exercise(kind, 2, 7)
    page = page_of(demo_client.get(at(kind, 2)))
    assert text_of(page.xpath("//h1")[0]) == asked.ask
    # Nothing on the page gives it away before the guess.
    assert not page.xpath("//*[@data-working]")
    assert asked.why not in text_of(page)
    done = page_of(demo_client.post(at(kind, 2), right_guess(asked)))
    assert "Right" in text_of(done.xpath("//section[contains(@class, 'is-good')]")[0])
    assert text_of(done.xpath("//p[@class='drill-why']")[0]) == asked.why
    for link in done.xpath("//section[@class='drill-workings']//a/@href"):
        assert demo_client.get(link).status_code == 200
    row = Answer.objects.get()
    assert (row.kind, row.level, row.seed, row.mark) == (kind.value, 2, 7, "right")
    skill = Skill.objects.get()
    assert skill.due is not None
    assert skill.run == 1


def test_two_frames_are_shown_and_each_is_its_own(demo_client: Any) -> None:
    seed = next(s for s in range(50) if exercise(ExerciseKind.WHICH_ONE, 1, s).cut)
    page = page_of(demo_client.get(reverse("drill-exercise", args=["which-one", 1, seed])))
    sources = page.xpath("//section[@class='drill-side']//img/@src")
    assert len(sources) == 2
    # No drawing beside them, which would give it away.
    assert not page.xpath("//section[@class='drill-side']//*[local-name()='svg']")
    one, other = (demo_client.get(source) for source in sources)
    assert (one.status_code, one.content[:2]) == (200, b"\xff\xd8")
    assert one.content != other.content
    done = page_of(demo_client.post(
        reverse("drill-exercise", args=["which-one", 1, seed]), {"answer": "left"}
    ))  # fmt: skip
    assert done.xpath("//section[@class='drill-side']//img/@src") == sources
    assert len(done.xpath("//section[@class='drill-side']//*[local-name()='svg']")) >= 2


def test_a_wrong_guess_shows_mine_beside_the_right_one(demo_client: Any) -> None:
    asked = exercise(ExerciseKind.SET_IT, 1, 7)
    assert isinstance(asked.answer, Settings)
    wrong = asked.answer.turns[0].marks[-1][1]
    if wrong == dict(asked.answer.solution)["iris"]:
        wrong = asked.answer.turns[0].marks[0][1]
    page = page_of(demo_client.post(at(ExerciseKind.SET_IT), {"iris": wrong}))
    sides = page.xpath("//section[@class='drill-side']")
    assert [text_of(one.xpath(".//h2")[0]).split()[0] for one in sides] == ["Yours", "Right"]
    for one in sides:
        assert len(one.xpath(".//*[local-name()='svg']")) >= 2
        picture = demo_client.get(one.xpath(".//img/@src")[0])
        assert (picture.status_code, picture.content[:2]) == (200, b"\xff\xd8")
    mine, right = (demo_client.get(one.xpath(".//img/@src")[0]).content for one in sides)
    assert mine != right
    # Afterwards the sliders are free.
    assert len(page.xpath("//section[@class='drill-free']//input[@type='range']")) == 5
    look = page.xpath("//form[@data-look]/@action")[0]
    one, other = (demo_client.get(look, {"turn-iso": str(k)}).content for k in (0, 6))
    assert one != other
    assert b"<html" not in one


@pytest.mark.parametrize(("kind", "sent"), [
    (ExerciseKind.HOW_MANY_STOPS, {"answer": "lots"}), (ExerciseKind.HOW_MANY_STOPS, {}), (ExerciseKind.HOW_MANY_STOPS, {"answer": "-3"}),
    (ExerciseKind.WHICH_ONE, {"answer": "both"}), (ExerciseKind.NAME_THE_DANGER, {"answer": ["quux", "flicker.mains"]}),
    (ExerciseKind.PLAN_A_DAY, {"answer": "1,2"}), (ExerciseKind.SET_IT, {"iris": "f/pi"}), (ExerciseKind.PLACE_THE_FACE, {"answer": "1000 %"}),
])  # fmt: skip
def test_nonsense_is_said_beside_the_field_and_keeps_what_was_typed(
    demo_client: Any, kind: ExerciseKind, sent: dict[str, Any]
) -> None:
    answer = demo_client.post(at(kind), sent)
    assert answer.status_code == 422
    page = page_of(answer)
    assert page.xpath("//*[@class='field-error']")
    assert Answer.objects.count() == 0
    if sent.get("answer") == "lots":
        assert page.xpath("//input[@name='answer']/@value") == ["lots"]


@pytest.mark.parametrize("address", [
    "/drill/quux/1/1/", "/drill/set-it/9/1/", "/drill/set-it/1/10000000/", "/drill/lessons/quux/", "/drill/quux/",
    "/drill/set-it/1/7/working/quux/", "/drill/plan-a-day/1/7/look/", "/drill/plan-a-day/1/7/picture.jpg",
    "/drill/plan-a-day/1/7/working/budget.ev100/", "/drill/lessons/iso/99/working/budget.ev100/",
])  # fmt: skip
def test_what_is_not_there_is_not_found(demo_client: Any, address: str) -> None:
    assert demo_client.get(address).status_code == 404


def test_the_same_answer_counts_once_however_often_it_comes(demo_client: Any, demo: Shoot) -> None:
    asked = exercise(ExerciseKind.HOW_MANY_STOPS, 1, 7)
    sent = {**right_guess(asked), "uid": "1f0c7c1e-0000-4000-8000-000000000001"}
    for _ in range(3):
        assert demo_client.post(at(ExerciseKind.HOW_MANY_STOPS), sent).status_code == 200
    assert Answer.objects.count() == 1
    assert Skill.objects.get().run == 1


TRIAL = """
import json, sys
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from soak.parallel import place
with place(Path(sys.argv[1])):
    from django.contrib.auth.models import User
    from fotonomy.core.drill.exercise_kind import ExerciseKind
    from fotonomy.core.drill.generate import exercise
    from fotonomy.drill.models import Answer, Skill
    from fotonomy.drill.services import keep_answer
    user = User.objects.get(username="demo")
    asked = exercise(ExerciseKind.HOW_MANY_STOPS, 1, 7)
    right = {"answer": f"{asked.answer.value:.6f}"}
    with ThreadPoolExecutor(4) as devices:
        sent = [devices.submit(keep_answer, user, asked, right, f"device-{k:04}") for k in range(40)]
        # Each is sent a second time, as a device does that heard no answer.
        sent += [devices.submit(keep_answer, user, asked, right, f"device-{k:04}") for k in range(40)]
        new = sum(one.result()[1] for one in sent)
    skill = Skill.objects.get(user=user)
    print(json.dumps([new, Answer.objects.filter(user=user).count(), skill.level, skill.run]))
"""


def test_two_devices_at_once_lose_no_answer_and_count_none_twice(tmp_path: Path) -> None:
    """Forty answers, each sent twice, over four threads on a database file as it is served."""
    script = tmp_path / "trial.py"
    script.write_text(TRIAL, "utf-8")
    run = subprocess.run(
        [sys.executable, str(script), str(tmp_path)], cwd=HERE, capture_output=True, text=True,
        check=False, env={**os.environ, "PYTHONPATH": str(HERE)},
    )  # fmt: skip
    assert run.returncode == 0, run.stderr
    # Three right in a row lead up a level, and the run begins anew: 40 = 3 + 3 + 34.
    assert json.loads(run.stdout.splitlines()[-1]) == [40, 40, 3, 34]


def test_a_session_lasts_five_minutes_and_says_how_it_went(demo_client: Any) -> None:
    first = demo_client.post(reverse("drill-start"), follow=True)
    assert "5 min left" in text_of(page_of(first))
    asked = exercise(ExerciseKind.HOW_MANY_STOPS, 1, 7)
    demo_client.post(at(ExerciseKind.HOW_MANY_STOPS), right_guess(asked))
    demo_client.post(at(ExerciseKind.HOW_MANY_STOPS, 1, 8), {"answer": "13"})
    assert demo_client.get(reverse("drill-next")).url.startswith("/drill/")
    session = demo_client.session
    session["drill"] = {
        **session["drill"],
        "started": (timezone.now() - timedelta(minutes=6)).isoformat(),
    }
    session.save()
    done = demo_client.get(reverse("drill-next"), follow=True)
    text = text_of(page_of(done))
    assert "2 exercises: ● 1 right, ▲ 0 close, ✕ 1 off" in text
    assert "How many stops" in text
    # A clock that was set back ends nothing, and breaks nothing.
    session["drill"] = {
        **session["drill"],
        "started": (timezone.now() + timedelta(days=2)).isoformat(),
    }
    session.save()
    assert demo_client.get(reverse("drill-next")).status_code == 302
    session["drill"] = "quux"
    session.save()
    assert demo_client.get(reverse("drill-next")).status_code == 302
    assert demo_client.get(reverse("drill-done")).status_code == 200


def test_what_is_due_comes_first_then_what_is_new(demo: Shoot) -> None:
    user = demo.owner
    assert [one.kind for one in next_of(user, NOW, 3)] == list(ExerciseKind)[:3]
    stars = exercise(ExerciseKind.STARS, 1, 7)
    keep_answer(user, stars, right_guess(stars), "aaaa-bbbb-1", NOW - timedelta(days=30))
    due = next_of(user, NOW, 2)
    assert due[0].kind is ExerciseKind.STARS
    assert due[1].kind is next(iter(ExerciseKind))


def test_a_streak_counts_days_and_forgives_today(demo: Shoot) -> None:
    user, asked = demo.owner, exercise(ExerciseKind.HOW_MANY_STOPS, 1, 7)
    for days in (1, 2, 3, 5):
        keep_answer(
            user,
            asked,
            right_guess(asked),
            f"streak-day-{days}",
            timezone.now() - timedelta(days=days),
        )
    today = timezone.localtime().date()
    assert streak_of(user, today) == 3
    keep_answer(user, asked, right_guess(asked), "streak-today-0", timezone.now())
    assert streak_of(user, today) == 4
    # An answer of a device whose clock is ahead was given now.
    keep_answer(
        user, asked, right_guess(asked), "streak-ahead-0", timezone.now() + timedelta(days=400)
    )
    assert Answer.objects.filter(at__gt=timezone.now()).count() == 0


def test_the_front_page_draws_what_is_weak(demo_client: Any, demo: Shoot) -> None:
    page = html.fromstring(demo_client.get(reverse("drill")).content.decode())
    bars = page.xpath("//table[@class='skills']//svg/@aria-label")
    assert len(bars) == len(ExerciseKind)
    assert all(bar.endswith("not practised yet") for bar in bars)
    asked = exercise(ExerciseKind.HOW_MANY_STOPS, 1, 7)
    for k in range(4):
        keep_answer(demo.owner, asked, {"answer": "13"}, f"weak-answer-{k}")
    page = demo_client.get(reverse("drill")).content.decode()
    assert "How many stops. 0 % right, " in page
    assert page.count("skill-bad") == 1
    assert "✕✕✕✕" in page
    assert "0 of 4 right" in page


@pytest.mark.parametrize("lesson", LESSONS, ids=lambda one: one.key)
def test_a_lesson_shows_another_drawing_at_another_place(demo_client: Any, lesson: Any) -> None:
    address = reverse("drill-lesson", args=[lesson.key])
    page = page_of(demo_client.get(address))
    assert len(page.xpath("//section//ol[@class='lessons']/li/a")) == 3
    drawn = [
        demo_client.get(address, {"at": str(k)}, headers={"X-Fotonomy-Fragment": "drill"}).content
        for k in (0, len(lesson.stops) - 1)
    ]
    assert drawn[0] != drawn[1]
    assert b"<html" not in drawn[0]
    for link in page.xpath("//ul[@class='drill-watched']//a/@href"):
        assert demo_client.get(link).status_code == 200
    assert demo_client.get(address, {"at": "quux"}).status_code == 200


def test_a_setup_of_mine_becomes_an_exercise_in_one_press(demo_client: Any, adze: Setup) -> None:
    page = page_of(demo_client.get(adze.get_absolute_url()))
    to = reverse("drill-of", args=[adze.shoot_id, adze.pk])
    assert to in page.xpath("//a/@href")
    asked = demo_client.get(to, follow=True)
    assert str(adze) in text_of(page_of(asked))
    address = asked.redirect_chain[-1][0]
    # One that answers with a number, so that a guess is easy to make.
    numbers = demo_client.get(f"{to}?kind=how-many-stops", follow=True)
    address = numbers.redirect_chain[-1][0]
    done = demo_client.post(address, {"answer": "3"})
    assert done.status_code == 200
    assert Answer.objects.get().setup_key == adze.pk
    led_everywhere(demo_client, page_of(done))
    # One that sets something shows the monitor's picture, mine beside the right one.
    sets = demo_client.get(f"{to}?kind=set-it", follow=True)
    where = sets.redirect_chain[-1][0]
    # The widest and the smallest iris cannot both be right.
    irises = page_of(sets).xpath("//select[@name='iris']/option/text()")
    pages = [page_of(demo_client.post(where, {"iris": irises[k]})) for k in (0, -1)]
    tried = next(one for one in pages if not one.xpath("//section[contains(@class, 'is-good')]"))
    assert len(tried.xpath("//section[@class='drill-side']//img")) == 2
    led_everywhere(demo_client, tried)
    # Its gear is deleted meanwhile, or the setup itself: words, and no fault.
    adze.delete()
    assert demo_client.get(address).status_code == 404


def led_everywhere(client: Any, done: Any) -> None:
    """The pictures, the free sliders and the workings of a result are there."""
    pictures, looks = done.xpath("//img/@src"), done.xpath("//form[@data-look]/@action")
    workings = done.xpath("//section[@class='drill-workings']//a/@href")
    assert looks
    assert workings
    for address in (*pictures, *workings):
        assert client.get(address).status_code == 200, address
    for address in looks:
        one, other = (client.get(address, {"turn-iso": str(k)}).content for k in (0, 6))
        assert one != other


def test_others_get_no_exercise_of_my_setup(client: Any, stranger: Any, adze: Setup) -> None:
    client.force_login(stranger)
    assert client.get(reverse("drill-of", args=[adze.shoot_id, adze.pk])).status_code == 404
    assert (
        client.get(reverse("drill-own", args=[adze.shoot_id, adze.pk, "set-it", 1, 1])).status_code
        == 404
    )


def test_what_went_wrong_becomes_an_exercise(demo_client: Any, demo: Shoot) -> None:
    page = page_of(demo_client.get(reverse("actual", args=[demo.pk])))
    links = [one for one in page.xpath("//a/@href") if "/drill/take/" in one]
    assert links
    asked = page_of(demo_client.get(links[0]))
    assert "planned" in text_of(asked.xpath("//ul[@class='drill-facts']")[0])
    done = page_of(demo_client.post(links[0], {"answer": "0.4 stops"}))
    assert done.xpath("//h2[@id='result-title']")
    led_everywhere(demo_client, done)
    as_planned = next(t for t in Take.objects.filter(shoot=demo) if not t.differed)
    answer = demo_client.get(reverse("drill-take", args=[demo.pk, as_planned.pk]), follow=True)
    assert "set as planned" in answer.content.decode()
    assert demo_client.get(reverse("drill-take", args=[demo.pk, 999_999])).status_code == 404


# Taken along


def test_what_is_taken_along_is_graded_the_same(demo_client: Any) -> None:
    page = page_of(demo_client.get(reverse("drill-ahead")))
    forms = page.xpath("//form[@class='drill-taken']")
    assert len(forms) == 12
    for form in forms:
        asked = exercise(
            ExerciseKind(form.get("data-kind")),
            int(form.get("data-level")),
            int(form.get("data-seed")),
        )
        assert json.loads(form.get("data-rules")) == rules_for(asked)
        assert text_of(form.xpath(".//p[@class='drill-ask']")[0]) == asked.ask
        # Each guess has its fields, with names of their own on this page.
        named = set(form.xpath(".//@name"))
        if not isinstance(asked.answer, Order):
            assert set(right_guess(asked)) <= named
    ids = page.xpath("//@id")
    assert len(ids) == len(set(ids))


def test_answers_from_the_road_come_in_once_and_in_their_time(
    demo_client: Any, demo: Shoot
) -> None:
    asked = exercise(ExerciseKind.HOW_MANY_STOPS, 1, 7)
    at_sea = (timezone.now() - timedelta(days=30)).replace(microsecond=0)
    one = {"uid": "road-answer-01", "kind": "how-many-stops", "level": 1, "seed": 7,
           "at": at_sea.isoformat(), "guess": right_guess(asked)}  # fmt: skip
    bad = [{**one, "uid": f"road-answer-{k:02}", **more} for k, more in enumerate((
        {"kind": "quux"}, {"level": 9}, {"at": "yesterday"}, {"at": "2026-06-05T10:00:00"}, {"guess": {}}, {"guess": 3},
        {"seed": "x"}, {"at": "9999-12-31T23:59:59Z"}, {"at": "0001-01-01T00:00:00+14:00"},
        {"at": (timezone.now() - timedelta(days=367)).isoformat()},
    ), 2)]  # fmt: skip
    for _ in range(2):
        answer = demo_client.post(
            reverse("drill-send"),
            json.dumps({"entries": [one, *bad, 3]}),
            content_type="application/json",
        )
        results = answer.json()["results"]
        assert [result["uid"] for result in results if result["kept"]] == ["road-answer-01"]
        refused = [result for result in results if not result["kept"]]
        assert len(refused) == 11
        assert all(result["words"] for result in refused)
    row = Answer.objects.get()
    assert (row.mark, row.at) == (Mark.RIGHT.value, at_sea)
    for nonsense in ("", "[", "{}", '{"entries": 3}', "[1]"):
        sent = demo_client.post(reverse("drill-send"), nonsense, content_type="application/json")
        assert sent.status_code == 400


def test_nobody_practises_without_an_account(client: Any, db: None) -> None:
    for name in ("drill", "drill-next", "drill-ahead"):
        assert client.get(reverse(name)).status_code == 302


def test_leaving_takes_what_was_practised_along(demo: Shoot) -> None:
    client = Client()
    client.force_login(demo.owner)
    client.post(at(ExerciseKind.WHICH_ONE), {"answer": "left"})
    assert Answer.objects.count() == 1
    from fotonomy.shoots.services.accounts import delete_account

    delete_account(demo.owner)
    assert Answer.objects.count() == Skill.objects.count() == 0
