"""What an interval run asks the shoot for: a subject's usual interval, and the sky."""

from dataclasses import replace
from datetime import UTC

from fotonomy.core.analysis.setup import run_s
from fotonomy.core.errors import RuleError
from fotonomy.core.exposure.daylight import light_to_come
from fotonomy.core.photometry.exposure_value import ev100_of
from fotonomy.core.spec.setup import Setup as Spec
from fotonomy.core.stills.interval import SUBJECTS
from fotonomy.shoots.models import Setup
from fotonomy.sky.ephemeris import NoSkyError, sky_over

# The sky of a run is asked for at so many even steps.
SAMPLES = 240


def sent_subject(spec: Spec, subject: str) -> Spec:
    """The usual interval of a subject, where one was chosen."""
    chosen = SUBJECTS.get(subject)
    if chosen is None or not spec.kind.traits.has_interval:
        return spec
    return replace(spec, frame_rate=1 / chosen[0])


def sky_for(row: Setup, spec: Spec) -> Spec:
    """The light of a clear sky over the run. Raises RuleError where no start is planned."""
    if spec.starts is None:
        raise RuleError("light_curve", "needs the time the setup is planned for", None)
    lasts = max(1 / spec.frame_rate, run_s(spec))
    light, site = spec.daylight, spec.site
    if site is None or light is None:
        raise RuleError("light_curve", "needs the latitude and longitude of the place", None)
    try:
        run = sky_over(
            site.latitude_deg, site.longitude_deg, row.place.height_m,
            spec.starts.astimezone(UTC), lasts / 60, lasts / SAMPLES,
        )  # fmt: skip
    except NoSkyError as error:
        raise RuleError("light_curve", error.rule, None) from error
    points = light_to_come(replace(light, sky=run), spec.starts, lasts, ev100_of(spec.light))
    return replace(spec, run=replace(spec.run, light_curve=points))
