"""What a person has practised, in their archive and back in."""

from typing import Any

from django.contrib.auth.models import User
from django.utils import timezone

from fotonomy.core.drill.memory import Memory
from fotonomy.core.errors import RuleError
from fotonomy.drill.models import Answer, Skill
from fotonomy.drill.services import make_room
from fotonomy.exchange.errors import ExchangeError
from fotonomy.exchange.schemas import check, moment_of, read_json, write_json

FORMAT, VERSION, PRACTICE = "fotonomy-practice", 1, "practice.json"
_PLAIN = ("uid", "kind", "level", "seed", "guess", "mark", "distance", "unit")


class PracticeInArchive:
    """Answers and skills. Which of somebody's setups an answer was about stays behind."""

    def write(self, owner: User) -> dict[str, bytes]:
        """Files by name; none where nothing was practised."""
        answers = [
            {**{name: getattr(one, name) for name in _PLAIN}, "at": one.at.isoformat()}
            for one in Answer.objects.filter(user=owner)
        ]
        skills = [
            {"kind": one.kind, "card": one.card, "level": one.level, "run": one.run}
            for one in Skill.objects.filter(user=owner).order_by("kind")
        ]
        if not answers and not skills:
            return {}
        text = {"format": FORMAT, "version": VERSION, "answers": answers, "skills": skills}
        return {PRACTICE: write_json(text).encode()}

    def read(self, owner: User, raw: bytes) -> None:
        """Practice beside what is there: an answer counts once, of a skill the later card stays.

        Raises ExchangeError with the place of the fault.
        """
        given = read_json(raw)
        check("practice", given)
        known = set(Answer.objects.filter(user=owner).values_list("uid", flat=True))
        now, found = timezone.now(), {}
        for number, one in enumerate(given["answers"]):
            if one["uid"] not in known:
                at = moment_of(one["at"], f"{PRACTICE}: $.answers[{number}].at")
                plain = {name: one[name] for name in _PLAIN}
                found[one["uid"]] = Answer(user=owner, at=min(at, now), **plain)
        Answer.objects.bulk_create(found.values())
        make_room(owner)
        for number, one in enumerate(given["skills"]):
            _skill(owner, one, f"{PRACTICE}: $.skills[{number}].card")


def _skill(owner: User, given: dict[str, Any], place: str) -> None:
    try:
        memory = Memory.of_card(given["card"], given["level"], given["run"])
    except RuleError as error:
        raise ExchangeError(place, error.rule) from error
    row, _ = Skill.objects.get_or_create(user=owner, kind=given["kind"])
    own = row.memory.reviewed
    if memory.reviewed is None or (own is not None and own >= memory.reviewed):
        return
    row.card, row.due, row.level, row.run = memory.card, memory.due, memory.level, memory.run
    row.save()
