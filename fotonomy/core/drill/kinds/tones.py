"""Exercises about tones: place the face, read the light, method for the light."""

from dataclasses import replace
from random import Random

from fotonomy.core.compare.exposure_methods import compare_methods
from fotonomy.core.drill.answers import Amount, OneOf, Option, Placed
from fotonomy.core.drill.exercise import Asked, Exercise
from fotonomy.core.drill.kinds.balance import MOST_TRIES
from fotonomy.core.drill.scenes import FLAT, SCENES, VIDEO, at_nominal, in_balance, pick, setup_of
from fotonomy.core.notation import writing as n
from fotonomy.core.photometry.exposure_value import Ev100
from fotonomy.core.photometry.named_light import NAMED_LIGHTS
from fotonomy.core.spec.changes import Change
from fotonomy.core.spec.intent import ExposureMethod
from fotonomy.core.spec.readings import Reading, Surface
from fotonomy.core.spec.setup import Setup
from fotonomy.core.tiles import Tile
from fotonomy.core.tone.placement import skin_mark_stops
from fotonomy.core.tone.signal_levels import headroom_stops, percent_at

_SKINS = {
    Surface.LIGHT_SKIN: "light skin",
    Surface.MEDIUM_SKIN: "medium skin",
    Surface.DEEP_SKIN: "deep skin",
}


def place_the_face(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """Where a face belongs on a profile; from level two on where it lands, and the clip zebra."""
    level = asked.level
    profile = own.profile if own else random.choice((VIDEO, FLAT))
    surface = random.choice(tuple(_SKINS))
    face = Reading(
        name="face", stops=round(random.uniform(-0.5, 2.2), 1), surface=surface, key=True
    )
    base = own or setup_of(pick(random))
    intent = replace(base.intent, exposing=ExposureMethod.GREY)
    base = at_nominal(replace(base, profile=profile, readings=(face,), intent=intent))
    recorded = base.recorded_profile
    grey = f"grey records at {n.format_number(profile.recorded_grey_percent, 0)} %"
    facts = [f"{profile.name}, {grey}", f"the bright side of a face, {_SKINS[surface]}"]
    if level == 1:
        mark = skin_mark_stops(recorded, surface)
        ask, stops = "At what percent does it belong?", mark
        because = f"{_SKINS[surface].capitalize()} belongs {n.format_signed(mark)} stops from grey"
        placed = replace(base, readings=(replace(face, stops=mark),))
    else:
        over = 0.0 if level == 2 else random.choice((-1.0, -0.5, 0.5, 1.0))
        facts.append(f"it reads {n.format_signed(face.stops)} stops from grey")
        if over:
            facts.append(
                f"you expose {n.format_stops(over)} {'over' if over > 0 else 'under'} nominal"
            )
        stops = face.stops + over
        ask = "At what percent does it record, and where does the clip zebra go?"
        because = f"It is placed {n.format_signed(stops)} stops from grey"
        placed = replace(base, readings=(replace(face, stops=stops),))
    stops = min(stops, headroom_stops(recorded))
    percent = percent_at(recorded, stops)
    tone = Amount(percent, "%", 5.0, float(int(recorded.clip_percent)), scale="level")
    return Exercise(
        asked=asked,
        ask=ask,
        facts=tuple(facts),
        answer=tone if level == 1 else Placed(tone, recorded.clip_percent),
        scene_setup=base,
        right=placed,
        tiles=(Tile.LEVEL,),
        why=f"{because}, which {profile.name} records at {n.format_number(percent, 0)} %. Zebra 1 "
        f"on it is {n.format_number(percent, 0)} ± 2 %; zebra 2 goes to where this profile clips, "
        f"{n.format_number(recorded.clip_percent, 0)} %, and has to be moved with the profile.",
        workings=("level.key.percent", "level.headroom_stops"),
    )


# How a light looks to somebody who has no meter. The spans are those of ANSI PH2.7-1986, from
# memory.
_SEEN = {
    "snow in sun": "Snow in full sun: one squints.",
    "bright sun": "Full sun on a clear day, hard shadows with sharp edges.",
    "hazy sun": "Sun through haze: shadows with soft edges.",
    "overcast": "A grey sky, no shadows at all.",
    "open shade": "In the shade of a house, blue sky above.",
    "just after sunset": "The sun has just gone, the sky still glows.",
    "street at night": "A brightly lit street at night, shop windows and signs.",
    "home interior": "A living room in the evening, lamps on.",
    "floodlit building": "A church under floodlights, the rest is dark.",
    "full moon": "A field under a full moon, no lamps.",
}


def read_the_light(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """How bright a described scene is, in EV; from level two on with something that takes light."""
    level = asked.level
    lights = [light for light in NAMED_LIGHTS if light.name in _SEEN]
    light = random.choice(lights if level > 1 else lights[:8])
    low, high = light.low_ev, light.high_ev
    facts = [_SEEN[light.name]]
    takes = 0.0
    if level == 2:
        takes = random.choice((1.0, 2.0))
        facts.append(f"You meter through a filter that takes {n.format_stops(takes)}.")
    if level == 3:
        takes = 3.0
        facts.append("The face you film is in the shade of a hat, three stops under the rest.")
    low, high = low - takes, high - takes
    base = own or setup_of(pick(random))
    right = replace(base, light=Ev100((low + high) / 2))
    return Exercise(
        asked=asked,
        ask="How bright is it, in EV at ISO 100?",
        facts=tuple(facts),
        answer=Amount(low, "EV", -8.0, 20.0, to=high),
        right=right,
        scene_setup=right,
        why=f"{light.name.capitalize()} lies between EV {n.format_number(light.low_ev)} and "
        f"{n.format_number(light.high_ev)}"
        + (
            f"; {n.format_stops(takes)} less leave EV {n.format_number(low)} to "
            f"{n.format_number(high)}."
            if takes
            else "."
        ),
        workings=("budget.ev100",),
        tiles=(Tile.LIGHT,),
    )


def method(asked: Asked, random: Random, own: Setup | None = None) -> Exercise:
    """Against the light: which method does what is wanted here."""
    level = asked.level
    for _ in range(MOST_TRIES):
        window = round(random.uniform(4.0, 6.5), 1)
        dark = round(random.uniform(-2.5, -0.8), 1)
        readings = (
            Reading(name="face", stops=dark, surface=Surface.LIGHT_SKIN, key=True),
            Reading(name="window", stops=window),
        )
        base = own or setup_of(pick(random, SCENES[2:9]), profile=random.choice((VIDEO, FLAT)))
        setup = at_nominal(replace(base, readings=readings))
        found = {
            one.placing.method: one for one in compare_methods(setup).all if one.placing.applies
        }
        aim = random.choice(("face", "window", "darkest") if level > 1 else ("face", "window"))
        offered = [
            one
            for one in (
                ExposureMethod.GREY,
                ExposureMethod.SKIN,
                ExposureMethod.HIGHLIGHTS,
                ExposureMethod.UNDER,
            )
            if one in found
        ]
        if len(offered) < 3:
            continue
        face = {one: found[one].level.key.placed_stops for one in offered}
        clips = {one: found[one].level.tones[1].clipped_stops for one in offered}
        if aim == "face":
            mark = skin_mark_stops(setup.recorded_profile, Surface.LIGHT_SKIN)
            ask = "The face shall be at its mark, the window may blow. Which method?"
            good = [one for one in offered if abs(face[one] - mark) < 0.1]
            near = [one for one in offered if 0.1 <= abs(face[one] - mark) < 0.7]
        elif aim == "window":
            ask = "The window must not clip. Which method?"
            good = [one for one in offered if clips[one] <= 0]
            near = [one for one in offered if 0 < clips[one] < 0.4]
        else:
            ask = "Under which method is the face darkest as recorded?"
            good = [min(offered, key=lambda one: face[one])]
            near = [one for one in offered if one not in good and face[one] - face[good[0]] < 0.5]
        if len(good) != 1 or near:
            continue
        options = tuple(Option(one.value, one.label, (Change("exposing", one),)) for one in offered)
        right = in_balance(replace(setup, intent=replace(setup.intent, exposing=good[0])))
        return Exercise(
            asked=asked,
            ask=ask,
            facts=(
                f"A face at {n.format_signed(dark)} stops from grey before a window at "
                f"{n.format_signed(window)}",
                setup.profile.name,
            ),
            answer=OneOf(options, good[0].value),
            scene_setup=setup,
            right=right,
            setups=(setup,),
            tiles=(Tile.LEVEL,),
            why=f"{good[0].label.capitalize()}: {found[good[0]].placing.reason}. "
            f"The face is then placed "
            f"{n.format_signed(face[good[0]])} stops from grey, the window "
            + ("holds." if clips[good[0]] <= 0 else f"clips by {n.format_stops(clips[good[0]])}."),
            workings=("budget.target_stops", "level.key.percent", "level.headroom_stops"),
        )
    raise LookupError("no such light")
