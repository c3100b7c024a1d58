"""A second factor beside the password: codes by the clock (RFC 6238), and codes kept on paper.

Whoever has one is not logged in by the password alone: the session then only remembers who is on
the way in, and no page but the one for the code knows of it.
"""

from base64 import b32encode
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.contrib.auth.models import User
from django.contrib.sessions.backends.base import SessionBase
from django.db import transaction
from django.utils import timezone
from django_otp.plugins.otp_static.models import StaticDevice, StaticToken
from django_otp.plugins.otp_totp.models import TOTPDevice

from fotonomy.web.qr import qr_svg

PAPER_CODES = 10
# Somebody who gave the password has so long for the code, and so many tries.
ON_THE_WAY, TRIES = timedelta(minutes=10), 6
PENDING = "on-the-way-in"


@dataclass(frozen=True, slots=True)
class Invited:
    """What a phone needs to make codes: an SVG to hold it before, and the same to type."""

    drawing: str
    secret: str


class LockedError(ValueError):
    """A code may not be tried yet; holds the seconds to wait."""

    def __init__(self, seconds: int) -> None:
        super().__init__(f"Too many wrong codes. Try again in {seconds} s.")
        self.seconds = seconds


def has_second_factor(user: User) -> bool:
    """Whether a person's password alone does not let them in."""
    return bool(TOTPDevice.objects.filter(user=user, confirmed=True).exists())


def invited(user: User) -> Invited:
    """What to show a person who begins: the same until it is confirmed or begun anew."""
    device, _ = TOTPDevice.objects.get_or_create(
        user=user, confirmed=False, defaults={"name": "phone"}
    )
    drawing = qr_svg(device.config_url, "A drawing for the phone to read")
    secret = b32encode(device.bin_key).decode()
    return Invited(drawing, " ".join(secret[k : k + 4] for k in range(0, len(secret), 4)))


def _typed(code: str) -> str:
    return "".join(code.split()).replace("-", "").lower()


@transaction.atomic
def confirm(user: User, code: str) -> list[str] | None:
    """Switch it on with the first code of the phone: the codes for paper; None for a wrong code.

    Raises LockedError where wrong ones came too fast.
    """
    device = TOTPDevice.objects.select_for_update().filter(user=user, confirmed=False).first()
    if device is None or not _verified(device, _typed(code)):
        return None
    remove(user, but=device)
    device.confirmed = True
    device.save(update_fields=["confirmed"])
    return new_paper_codes(user)


@transaction.atomic
def new_paper_codes(user: User) -> list[str]:
    """Ten codes that open once each, in place of those there were."""
    StaticDevice.objects.filter(user=user).delete()
    device = StaticDevice.objects.create(user=user, name="paper")
    codes = [StaticToken.random_token() for _ in range(PAPER_CODES)]
    StaticToken.objects.bulk_create([StaticToken(device=device, token=code) for code in codes])
    return codes


def paper_codes_left(user: User) -> int:
    """How many codes on paper are still good."""
    return int(StaticToken.objects.filter(device__user=user).count())


@transaction.atomic
def remove(user: User, but: TOTPDevice | None = None) -> None:
    """Switch it off: the password alone opens again."""
    TOTPDevice.objects.filter(user=user).exclude(pk=but.pk if but else None).delete()
    StaticDevice.objects.filter(user=user).delete()


def _verified(device: TOTPDevice | StaticDevice, code: str) -> bool:
    allowed, why = device.verify_is_allowed()
    if not allowed:
        left = why["locked_until"] - timezone.now()
        raise LockedError(max(1, round(left.total_seconds())))
    return bool(device.verify_token(code))


@transaction.atomic
def opens(user: User, code: str) -> bool:
    """Whether a code of the phone or of the paper is right; one that was right is never again.

    Raises LockedError where wrong ones came too fast: 1, 2, 4, 8 s and so on.
    """
    code = _typed(code)
    # A phone's codes are six digits; those on paper are eight letters and digits.
    kind = TOTPDevice if len(code) == 6 and code.isascii() and code.isdigit() else StaticDevice
    device = kind.objects.select_for_update().filter(user=user, confirmed=True).first()
    return device is not None and _verified(device, code)


def begin(session: SessionBase, user: User, backend: str) -> None:
    """Remember who gave the right password and has yet to give a code."""
    session[PENDING] = {
        "user": user.pk, "backend": backend, "password": user.password, "tries": 0,
        "until": (timezone.now() + ON_THE_WAY).isoformat(),
    }  # fmt: skip


def on_the_way(session: SessionBase) -> tuple[User, str] | None:
    """Who is on the way in, and by which backend; None where nobody is, or is too late."""
    kept = session.get(PENDING)
    if kept is None:
        return None
    user = User.objects.filter(pk=kept["user"], is_active=True, password=kept["password"]).first()
    late = datetime.fromisoformat(kept["until"]) < timezone.now()
    if user is None or late or kept["tries"] >= TRIES:
        del session[PENDING]
        return None
    return user, kept["backend"]


def missed(session: SessionBase) -> None:
    """Count a wrong code: after six the password has to be given again."""
    session[PENDING] = {**session[PENDING], "tries": session[PENDING]["tries"] + 1}


def arrived(session: SessionBase) -> None:
    """Forget who was on the way in: they are in."""
    session.pop(PENDING, None)
