"""Undo and redo of the kit and of packing: by field, by every door, and never over what came later."""

from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from lxml import html

from fotonomy.kit import history
from fotonomy.kit.models import Accessory, Body, Filter, KitChange, Lens, Profile
from fotonomy.shoots.models import Setup, Shoot
from tests.web.test_kit import ND

MODELS = (Profile, Body, Lens, Filter, Accessory)


def everything(owner: Any) -> Any:
    """Every thing of a kit with all its values, without going through the history."""
    found = {
        m.__name__: list(m.objects.filter(owner=owner).order_by("pk").values()) for m in MODELS
    }
    found["records"] = sorted(
        (body.pk, profile.pk)
        for body in Body.objects.filter(owner=owner)
        for profile in body.profiles.all()
    )
    return found


def form_of(client: Any, address: str) -> dict[str, Any]:
    """The fields of the form on a page as they stand."""
    page = html.fromstring(client.get(address).content.decode())
    (form,) = [f for f in page.forms if f.xpath(".//input[@name='name']")]
    fields: dict[str, Any] = {}
    for name, value in form.form_values():
        fields.setdefault(name, []).append(value)
    return fields


def press(client: Any, which: str) -> str:
    answer = client.post(f"/kit/{which}/", follow=True)
    page = html.fromstring(answer.content.decode())
    # The newest of what was said since a page was shown.
    return " ".join(page.xpath("//*[@id='messages']/p")[-1].text_content().split())


def test_every_change_of_the_kit_can_be_taken_back_and_done_again(
    demo_client: Any, demo: Shoot
) -> None:
    owner, states = demo.owner, [everything(demo.owner)]
    lens = Lens.objects.filter(owner=owner).first()
    body = Body.objects.get(owner=owner, name="A-cam")
    spare = next(f for f in Filter.objects.filter(owner=owner) if not f.setups.exists())
    kit = demo_client.get("/kit/kit.json").content.replace(b'"A-cam"', b'"D-cam"')
    lens_form = form_of(demo_client, f"/kit/lens/{lens.pk}/") | {"name": "Renamed"}
    body_form = form_of(demo_client, f"/kit/body/{body.pk}/") | {"profiles": []}
    steps = [
        ("/kit/filter/new/", {**ND, "name": "One more"}),
        (f"/kit/lens/{lens.pk}/", lens_form),
        (f"/kit/body/{body.pk}/", body_form),
        (f"/kit/filter/{spare.pk}/delete/", {}),
        ("/kit/import/", {"file": SimpleUploadedFile("kit.json", kit, "application/json")}),
    ]
    for address, sent in steps:
        assert demo_client.post(address, sent).status_code == 302, address
        states.append(everything(owner))
        assert states[-1] != states[-2], address
    labels = [
        "One more added",
        "Renamed changed",
        "A-cam changed",
        f"{spare} taken out",
        "kit.json imported",
    ]
    for at in reversed(range(5)):
        assert press(demo_client, "undo") == f"Undone: {labels[at]}."
        assert everything(owner) == states[at], labels[at]
    assert press(demo_client, "undo") == "There is nothing to undo."
    for at in range(5):
        assert press(demo_client, "redo") == f"Done again: {labels[at]}."
        assert everything(owner) == states[at + 1], labels[at]
    assert press(demo_client, "redo") == "There is nothing to redo."


def test_undo_touches_its_own_fields_and_no_others(demo_client: Any, demo: Shoot) -> None:
    lens = Lens.objects.filter(owner=demo.owner).first()
    was = lens.transmission_stops
    assert was != 0.5
    with history.recorded(demo.owner, "renamed and lighter"):
        lens.name, lens.transmission_stops = "First", 0.5
        lens.save()
    # Another window changes one of the two and a third.
    later = Lens.objects.get(pk=lens.pk)
    later.name, later.thread_mm = "Second", 95
    later.save()
    said = press(demo_client, "undo")
    assert said == "Undone: renamed and lighter. 1 of its values were changed since, and stay."
    later.refresh_from_db()
    assert (later.name, later.thread_mm) == ("Second", 95)
    assert later.transmission_stops == was


def test_what_is_in_use_or_would_break_a_rule_is_not_undone(demo_client: Any, demo: Shoot) -> None:
    setup = demo.setups.get(code="4B")
    with history.recorded(demo.owner, "lens added"):
        lens = Lens.objects.filter(owner=demo.owner).first()
        lens.pk, lens.name = None, "New one"
        lens.save(force_insert=True)
    setup.lens = lens
    setup.save()
    before = everything(demo.owner)
    assert press(demo_client, "undo") == f"The undo cannot be done: New one is used in {setup}."
    assert everything(demo.owner) == before
    assert KitChange.objects.filter(undone=True).count() == 0


def test_a_name_taken_meanwhile_is_said(demo_client: Any, demo: Shoot) -> None:
    spare = next(f for f in Filter.objects.filter(owner=demo.owner) if not f.setups.exists())
    demo_client.post(f"/kit/filter/{spare.pk}/delete/")
    Filter.objects.create(owner=demo.owner, name=spare.name, kind=spare.kind, density=0.3)
    before = everything(demo.owner)
    said = press(demo_client, "undo")
    assert said == "The undo cannot be done: you have another thing of that name now."
    assert everything(demo.owner) == before


def test_something_new_ends_what_could_be_done_again(demo_client: Any, demo: Shoot) -> None:
    demo_client.post("/kit/filter/new/", {**ND, "name": "One more"})
    press(demo_client, "undo")
    demo_client.post("/kit/filter/new/", {**ND, "name": "Another"})
    assert press(demo_client, "redo") == "There is nothing to redo."
    page = html.fromstring(demo_client.get("/kit/").content.decode())
    labels = [
        " ".join(b.text_content().split()) for b in page.xpath("//*[@class='kit-steps']//button")
    ]
    assert labels == ["Undo: Another added", "Redo"]


def test_nobody_undoes_somebody_elses_kit(demo_client: Any, demo: Shoot, stranger: Any) -> None:
    with history.recorded(stranger, "theirs"):
        Filter.objects.create(owner=stranger, name="Theirs", kind="nd", density=0.3)
    assert press(demo_client, "undo") == "There is nothing to undo."
    assert Filter.objects.filter(name="Theirs").exists()


def test_only_so_many_steps_are_kept(demo: Shoot, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(history, "LONGEST_HISTORY", 3)
    lens = Lens.objects.filter(owner=demo.owner).first()
    for k in range(5):
        with history.recorded(demo.owner, f"step {k}"):
            lens.name = f"Name {k}"
            lens.save()
    kept = KitChange.objects.order_by("pk").values_list("label", flat=True)
    assert list(kept) == ["step 2", "step 3", "step 4"]


def packed(shoot: Shoot) -> Any:
    fresh = Shoot.objects.get(pk=shoot.pk)
    return fresh.packs_all, sorted(row.pk for row in fresh.lenses.all())


def test_packing_is_a_step_of_the_shoot(demo_client: Any, demo: Shoot) -> None:
    address = f"/shoots/{demo.pk}/packing/"
    lenses = [str(pk) for pk in Lens.objects.filter(owner=demo.owner).values_list("pk", flat=True)]
    states = [packed(demo)]
    for ticked in (lenses[:2], lenses[1:4]):
        demo_client.post(address, {"packs_all": "0", "lenses": ticked})
        states.append(packed(demo))
    assert states[2] == (False, sorted(map(int, lenses[1:4])))
    page = html.fromstring(demo_client.get(address).content.decode())
    (step,) = page.xpath("//button[@name='step']/@value")
    answer = demo_client.post(f"/shoots/{demo.pk}/undo/", {"step": step})
    assert answer["Location"] == address
    assert packed(demo) == states[1]
    # From the bench too, in its turn with the setups' own steps.
    setup = Setup.objects.get(shoot=demo, code="4B")
    demo_client.post(f"/shoots/{demo.pk}/undo/", {"setup": setup.pk})
    assert packed(demo) == states[0]
    for state in states[1:]:
        demo_client.post(f"/shoots/{demo.pk}/redo/")
        assert packed(demo) == state


def test_packing_of_two_windows_does_not_collide(demo_client: Any, demo: Shoot) -> None:
    address = f"/shoots/{demo.pk}/packing/"
    lenses = sorted(Lens.objects.filter(owner=demo.owner).values_list("pk", flat=True))[:3]
    demo_client.post(address, {"packs_all": "0", "lenses": lenses[:1]})
    demo_client.post(address, {"packs_all": "0", "lenses": lenses[:2]})
    step = demo.changes.order_by("pk").last().pk
    demo_client.post(address, {"packs_all": "0", "lenses": lenses})
    demo_client.post(f"/shoots/{demo.pk}/undo/", {"step": step})
    assert packed(demo) == (False, [lenses[0], lenses[2]])


def test_gear_that_comes_along_with_a_setup_is_a_step_of_the_kit(
    demo_client: Any, demo: Shoot
) -> None:
    bench = demo.setups.get(code="4B").get_absolute_url()
    plan = demo_client.get(f"{bench}setup.json").content.replace(b'"A-cam"', b'"D-cam"')
    upload = SimpleUploadedFile("4B.json", plan, "application/json")
    demo_client.post(f"/shoots/{demo.pk}/setups/import/", {"file": upload})
    assert Body.objects.filter(owner=demo.owner, name="D-cam").exists()
    row = Setup.objects.order_by("pk").last()
    assert press(demo_client, "undo") == f"The undo cannot be done: D-cam is used in {row}."
    row.delete()
    assert press(demo_client, "undo") == "Undone: 4B.json imported."
    assert not Body.objects.filter(owner=demo.owner, name="D-cam").exists()
