"""Pages of the drill: overview, session, exercise, what one turns afterwards, lessons."""

from datetime import datetime, timedelta
from random import randint
from typing import Any
from uuid import uuid4

from django.contrib.auth.decorators import login_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from fotonomy.core.analysis.setup import analyse
from fotonomy.core.drill.exercise import Exercise
from fotonomy.core.drill.exercise_kind import ExerciseKind
from fotonomy.core.drill.generate import MOST_SEED, exercise
from fotonomy.core.drill.lessons import BY_KEY, LESSONS
from fotonomy.core.errors import RuleError
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.drill.models import Answer
from fotonomy.drill.presenters.after import look_view, turned
from fotonomy.drill.presenters.exercise import address_of, exercise_view
from fotonomy.drill.presenters.lesson import lesson_view
from fotonomy.drill.presenters.overview import overview
from fotonomy.drill.presenters.sides import SIDE, names_of
from fotonomy.drill.services import keep_answer, next_of, skills_of
from fotonomy.exchange.pictures import write_jpeg
from fotonomy.kit.current_user import current_user
from fotonomy.shoots.presenters.working import numbers_view, working_view
from fotonomy.shoots.views.get_or_404 import wants_fragment, window_of
from fotonomy.simulators.frame import cut_of
from fotonomy.simulators.monitor import View as MonitorView
from fotonomy.simulators.monitor import picture, signal_of

SESSION = "drill"
SESSION_LASTS = timedelta(minutes=5)
UID_LONGEST = 36


def uid_of(text: str) -> str:
    """An answer's id as it was sent, or a new one for what is none."""
    plain = text.strip()
    good = 8 <= len(plain) <= UID_LONGEST and plain.replace("-", "").isalnum()
    return plain if good else str(uuid4())


def made(kind: str, level: int, seed: int) -> Exercise:
    """The exercise of an address. 404 where there is none."""
    try:
        return exercise(ExerciseKind.of(kind), level, seed)
    except (ValueError, RuleError) as error:
        raise Http404(str(error)) from error


@login_required
@require_GET
def drill(request: HttpRequest) -> HttpResponse:
    """The front page: what is weak, what is due, the lessons."""
    now = timezone.now()
    view = overview(current_user(request), now, timezone.localtime(now))
    return render(request, "drill/overview.html", {"v": view})


@login_required
@require_POST
def start(request: HttpRequest) -> HttpResponse:
    """Begin a session of five minutes."""
    request.session[SESSION] = {"started": timezone.now().isoformat(), "since": _last(request)}
    return redirect("drill-next")


def _last(request: HttpRequest) -> int:
    row = Answer.objects.filter(user=current_user(request)).order_by("-pk").first()
    return row.pk if row else 0


def _session(request: HttpRequest) -> tuple[datetime, int] | None:
    """When the session began and the last answer before it; None outside of one."""
    kept: Any = request.session.get(SESSION)
    try:
        return datetime.fromisoformat(kept["started"]), int(kept["since"])
    except (TypeError, KeyError, ValueError):
        return None


@login_required
@require_GET
def go_on(request: HttpRequest) -> HttpResponse:
    """The next exercise; after five minutes how it went. A clock set back ends nothing early."""
    session, now = _session(request), timezone.now()
    if session is not None and now - session[0] >= SESSION_LASTS:
        return redirect("drill-done")
    one = next_of(current_user(request), now)[0]
    return redirect("drill-exercise", one.kind.value, one.level, one.seed)


@login_required
@require_GET
def done(request: HttpRequest) -> HttpResponse:
    """How a session went."""
    session = request.session.get(SESSION)
    since = int(session["since"]) if isinstance(session, dict) and "since" in session else 0
    rows = list(Answer.objects.filter(user=current_user(request), pk__gt=since))
    counts = {mark: sum(row.mark == mark for row in rows) for mark in ("right", "close", "off")}
    known = {kind.value: kind.label for kind in ExerciseKind}
    weak = sorted({known[row.kind] for row in rows if row.mark == "off" and row.kind in known})
    context = {"count": len(rows), "counts": counts, "weak": weak}
    return render(request, "drill/done.html", context)


@login_required
@require_GET
def one_kind(request: HttpRequest, kind: str) -> HttpResponse:
    """A new exercise of a kind, at the level one is at."""
    if kind not in set(ExerciseKind):
        raise Http404
    skills = skills_of(current_user(request))
    level = skills[ExerciseKind.of(kind)].level if ExerciseKind.of(kind) in skills else 1
    return redirect("drill-exercise", kind, level, randint(0, MOST_SEED))


@login_required
@require_http_methods(["GET", "POST"])
def one_exercise(request: HttpRequest, kind: str, level: int, seed: int) -> HttpResponse:
    """An exercise: GET asks, POST grades, keeps the answer and shows why."""
    asked = made(kind, level, seed)
    return answered(request, asked, address_of(asked))


def answered(
    request: HttpRequest, asked: Exercise, address: str, setup_key: int = 0, **more: Any
) -> HttpResponse:
    """Ask or grade an exercise at an address."""
    phone, status = window_of(request).phone, 200
    typed, errors, grade = {}, {}, None
    uid = str(uuid4())
    if request.method == "POST":
        typed = _typed(request)
        uid = uid_of(request.POST.get("uid", ""))
        try:
            grade, _ = keep_answer(current_user(request), asked, typed, uid, setup_key=setup_key)
        except RuleError as error:
            errors, status = {error.field: f"{error.rule}."}, 422
    view = exercise_view(asked, address, phone, uid, typed, errors, grade)
    session = _session(request)
    left = None
    if session is not None:
        seconds = (SESSION_LASTS - (timezone.now() - session[0])).total_seconds()
        left = max(0, round(seconds / 60))
    context = {"v": view, "left": left, **more}
    return render(request, "drill/exercise.html", context, status=status)


def _typed(request: HttpRequest) -> dict[str, str]:
    """What was sent; several boxes of one name as one text."""
    found = {}
    for key in request.POST:
        if key in ("csrfmiddlewaretoken", "uid"):
            continue
        found[key] = ",".join(request.POST.getlist(key))
    places = {key: text for key, text in found.items() if key.startswith("place-")}
    if places:
        # An order is typed as a place for each thing.
        order = sorted(places, key=lambda key: int(places[key]) if places[key].isdigit() else 99)
        found = {"answer": ",".join(key.removeprefix("place-") for key in order)}
    return found


@login_required
@require_GET
def look(request: HttpRequest, kind: str, level: int, seed: int) -> HttpResponse:
    """What one turns after the answer, drawn: a fragment."""
    return look_page(request, made(kind, level, seed))


def look_page(request: HttpRequest, asked: Exercise) -> HttpResponse:
    """What one turns after an exercise's answer; 404 where nothing can be turned."""
    setup = turned(asked, request.GET.dict())
    if setup is None:
        raise Http404
    view = look_view(asked, setup, window_of(request).phone)
    return render(request, "drill/_side.html", {"side": view})


@login_required
@require_GET
def shown_picture(request: HttpRequest, kind: str, level: int, seed: int) -> HttpResponse:
    """The monitor's picture of the right answer, or of a guess; or a cut of one of two frames."""
    return picture_page(request, made(kind, level, seed))


def picture_page(request: HttpRequest, asked: Exercise) -> HttpResponse:
    """A picture of an exercise; 404 where it has none."""
    side = request.GET.get(SIDE, "")
    if asked.cut is not None and side in ("0", "1"):
        return _as_jpeg(cut_of(analyse(asked.setups[int(side)]), asked.cut), 92)
    try:
        setup = asked.tried(request.GET.dict()) or asked.right
    except RuleError:
        setup = asked.right
    if setup is None:
        raise Http404
    analysis = analyse(setup)
    return _as_jpeg(picture(analysis, signal_of(analysis, 2), MonitorView.ZEBRAS), 80)


def _as_jpeg(drawn: Any, quality: int) -> HttpResponse:
    answer = HttpResponse(write_jpeg(drawn, quality), content_type="image/jpeg")
    answer["Cache-Control"] = "private, max-age=3600"
    return answer


@login_required
@require_GET
def drill_working(
    request: HttpRequest, kind: str, level: int, seed: int, name: str
) -> HttpResponse:
    """The working of a number of the right answer."""
    asked = made(kind, level, seed)
    return working_page(request, asked, address_of(asked), name)


def working_page(request: HttpRequest, asked: Exercise, address: str, name: str) -> HttpResponse:
    """The working of a number of an exercise's right answer; 404 for what is none."""
    if asked.right is None:
        raise Http404
    return _working(request, asked.right, address, name)


def _working(request: HttpRequest, setup: Spec, address: str, name: str) -> HttpResponse:
    """The working of a number of a setup, or all of them; 404 for what is none."""
    names = names_of(address)
    context: dict[str, Any] = {"boxed": wants_fragment(request)}
    try:
        if name == "all":
            context["tiles"] = numbers_view(setup, names, request.GET.get("tile", ""))
        else:
            context["v"] = working_view(analyse(setup), name, names)
    except RuleError as error:
        raise Http404(str(error)) from error
    page = "shoots/_working.html" if context["boxed"] else "shoots/loose.html"
    return render(request, page, context)


@login_required
@require_GET
def lesson(request: HttpRequest, key: str) -> HttpResponse:
    """One lesson, with its slider where it was put."""
    if key not in BY_KEY:
        raise Http404
    at = request.GET.get("at", "")
    view = lesson_view(BY_KEY[key], int(at) if at.isdigit() else None, window_of(request).phone)
    number = [one.key for one in LESSONS].index(key)
    context = {
        "v": view, "number": number + 1, "count": len(LESSONS),
        "before": LESSONS[number - 1] if number else None,
        "after": LESSONS[number + 1] if number + 1 < len(LESSONS) else None,
    }  # fmt: skip
    page = "drill/_lesson_drawing.html" if wants_fragment(request) else "drill/lesson.html"
    return render(request, page, context)


@login_required
@require_GET
def lesson_working(request: HttpRequest, key: str, at: int, name: str) -> HttpResponse:
    """The working of a number of a lesson, at a place of its slider."""
    if key not in BY_KEY or at >= len(BY_KEY[key].stops):
        raise Http404
    address = request.path.rsplit("working/", 1)[0]
    return _working(request, BY_KEY[key].stops[at].setup, address, name)
