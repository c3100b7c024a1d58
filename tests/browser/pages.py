"""Every page of the program, with the demo's data, for what has to hold on all of them."""

from fotonomy.field.models import Take
from fotonomy.kit.models import Body
from fotonomy.shoots.models import Setup


def every_page() -> tuple[str, ...]:
    """Their addresses; somebody has to be inside the demo."""
    row, body = Setup.objects.get(code="4B"), Body.objects.get(name="A-cam")
    stars, gulls, ferry = (Setup.objects.get(code=code) for code in ("8A", "5B", "6A"))
    pond = Setup.objects.get(code="1A")
    shoot = row.shoot
    take = Take.objects.filter(shoot=shoot).first()
    assert take is not None
    return (
        f"/shoots/{shoot.pk}/day/", f"/shoots/{shoot.pk}/places/",
        f"/shoots/{shoot.pk}/day/{row.day_id}/dates/?setup={ferry.pk}",
        f"/shoots/{shoot.pk}/day/{row.day_id}/weather/",
        f"/shoots/{shoot.pk}/parts/outline/", f"/shoots/{shoot.pk}/places/{row.place_id}/horizon/",
        f"/shoots/{shoot.pk}/parts/place/{row.place_id}/", f"/shoots/{shoot.pk}/parts/day/new/",
        f"/shoots/{shoot.pk}/{row.pk}/", "/shoots/", "/shoots/new/", f"/shoots/{shoot.pk}/edit/",
        f"/shoots/{shoot.pk}/paper/call-sheet/", f"/shoots/{shoot.pk}/paper/cards/", "/guide/",
        "/shoots/start/camera/?sensor=full", "/guide/words/", "/guide/words/?q=quux",
        "/kit/", "/kit/profile/new/", "/kit/lens/new/", "/kit/filter/new/",
        f"/kit/body/{body.pk}/", "/nowhere/", "/kit/accessory/new/", "/kit/body/new/",
        f"/shoots/{shoot.pk}/packing/", f"/shoots/{shoot.pk}/compare/",
        f"/shoots/{shoot.pk}/{row.pk}/level/", f"/shoots/{shoot.pk}/{row.pk}/monitor/",
        f"/shoots/{shoot.pk}/{row.pk}/lamps/",
        f"/shoots/{shoot.pk}/{stars.pk}/", f"/shoots/{shoot.pk}/{gulls.pk}/",
        f"/shoots/{shoot.pk}/{ferry.pk}/", f"/shoots/{shoot.pk}/{pond.pk}/",
        f"/shoots/{shoot.pk}/{stars.pk}/dry-run/",
        f"/shoots/{shoot.pk}/{stars.pk}/dry-run/?run=1&fault=bump",
        f"/shoots/{shoot.pk}/{stars.pk}/program/", f"/shoots/{shoot.pk}/{stars.pk}/play/",
        "/kit/accessory/new/?sort=remote", "/kit/curves/", "/kit/profile/published/",
        f"/kit/body/{body.pk}/calibrate/",
        f"/shoots/{shoot.pk}/{row.pk}/plans/", f"/shoots/{shoot.pk}/{row.pk}/play/",
        f"/shoots/{shoot.pk}/{row.pk}/working/motion.smear_percent/",
        f"/shoots/{shoot.pk}/{row.pk}/working/all/", "/working/about/day/", "/drill/",
        "/drill/ahead/", "/drill/set-it/2/7/", "/drill/plan-a-day/2/7/", "/drill/which-one/1/4/",
        "/drill/lessons/iris/", "/drill/done/",
        f"/shoots/{shoot.pk}/takes/", f"/shoots/{shoot.pk}/takes/home/",
        f"/shoots/{shoot.pk}/crew/", f"/shoots/{shoot.pk}/field/",
    )  # fmt: skip
