"""How much a person may keep: counted, said before it is reached, refused in words, set by the staff."""

import json
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from lxml import html

from fotonomy.kit.models import Accessory, Allowance, Body, Filter, Lens, Profile
from fotonomy.kit.quotas import ROW_BYTES, SAID_FROM, Use, stored
from fotonomy.shoots.models import Change, Setup, Shoot
from fotonomy.shoots.services.quotas import uses_of
from tests.web.test_kit import ND

TABLE = [[k / 1000, k / 1000] for k in range(1001)]


def said(answer: Any) -> str:
    return " ".join(html.fromstring(answer.content.decode()).xpath("string(//body)").split())


def test_bytes_are_those_of_the_rows(demo: Shoot) -> None:
    """Counted here from the objects, there by the database."""
    before = stored(demo.owner).count
    Profile.objects.create(
        owner=demo.owner, name="Long", curve=Profile.TABLE, table=TABLE, clip_percent=90
    )
    grown = 1e6 * (stored(demo.owner).count - before)
    assert grown == pytest.approx(ROW_BYTES + len(json.dumps(TABLE)) + len("[]"), rel=0.01)
    things = sum(
        m.objects.filter(owner=demo.owner).count() for m in (Body, Lens, Filter, Accessory, Profile)
    )
    rows = things + Setup.objects.count() + Change.objects.filter(shoot=demo).count()
    assert 1e6 * stored(demo.owner).count > rows * ROW_BYTES + len(json.dumps(TABLE))


def test_nobody_counts_for_somebody_else(demo: Shoot, stranger: Any) -> None:
    before = [use.count for use in uses_of(stranger)]
    Profile.objects.create(
        owner=demo.owner, name="Long", curve=Profile.TABLE, table=TABLE, clip_percent=90
    )
    assert [use.count for use in uses_of(stranger)] == before


@pytest.mark.parametrize(("count", "near"), [(8, False), (9, True), (10, True)])
def test_nine_tenths_are_nearly_full(count: int, near: bool) -> None:
    assert SAID_FROM == 0.9
    assert Use("lenses", count, 10).nearly_full is near


def test_it_is_said_before_it_is_reached(demo_client: Any, demo: Shoot) -> None:
    lenses = Lens.objects.filter(owner=demo.owner).count()
    assert "Nearly full" not in said(demo_client.get("/kit/"))
    assert "Nearly full" not in said(demo_client.get("/shoots/"))
    Allowance.objects.create(owner=demo.owner, things=lenses + 100, setups=13)
    assert "Nearly full: 12 of 13 setups." in said(demo_client.get("/shoots/"))
    assert "Nearly full" not in said(demo_client.get("/kit/"))
    Allowance.objects.update(things=Filter.objects.filter(owner=demo.owner).count())
    assert "Nearly full: " in said(demo_client.get("/kit/"))
    page = said(demo_client.get("/account/"))
    assert "12 of 13 setups nearly full" in page
    assert "1 of 300 shoots" in page
    assert "of 200 megabytes" in page


def test_more_megabytes_than_there_may_be_are_refused_and_nothing_changes(
    demo_client: Any, demo: Shoot
) -> None:
    bench = demo.setups.get(code="4B").get_absolute_url()
    plan = demo_client.get(f"{bench}setup.json").content
    Allowance.objects.create(owner=demo.owner, megabytes=0)
    before = {model: model.objects.count() for model in (Setup, Shoot, Filter, Change)}
    upload = SimpleUploadedFile("4B.json", plan, "application/json")
    for address, sent in (
        (f"/shoots/{demo.pk}/setups/new/", {}), (f"{bench}copy/", {}),
        (f"/shoots/{demo.pk}/setups/import/", {"file": upload}),
    ):  # fmt: skip
        assert "and you may keep 0 MB: delete something" in said(
            demo_client.post(address, sent, follow=True)
        ), address
    refused = demo_client.post("/kit/filter/new/", {**ND, "name": "One more"})
    assert refused.status_code == 422
    assert "and you may keep 0 MB" in said(refused)
    # What was typed is still there.
    assert html.fromstring(refused.content.decode()).xpath("//input[@name='name']/@value") == [
        "One more"
    ]
    archive = demo_client.get("/account/everything.zip").content
    taken = SimpleUploadedFile("all.zip", archive, "application/zip")
    assert "and you may keep 0 MB" in said(
        demo_client.post("/account/everything.zip", {"file": taken}, follow=True)
    )
    assert {model: model.objects.count() for model in before} == before
    # Nobody is kept from working on what is there, or from making room.
    assert demo_client.post(bench, {"iris": "f/8"}).status_code == 302
    assert demo.setups.get(code="4B").iris == 8.0
    demo_client.post(f"{bench}delete/")
    assert demo.setups.count() == 11


def test_the_staff_sets_what_somebody_may_keep(
    demo_client: Any, demo: Shoot, stranger: Any
) -> None:
    demo.owner.is_staff = demo.owner.is_superuser = True
    demo.owner.save()
    address = f"/staff/auth/user/{stranger.pk}/change/"
    form = html.fromstring(demo_client.get(address).content.decode()).xpath(
        "//form[@id='user_form']"
    )[0]
    sent = {k: v for k, v in form.form_values() if "__prefix__" not in k}
    sent |= {"allowance-TOTAL_FORMS": "1", "allowance-0-owner": str(stranger.pk), "allowance-0-shoots": "3",
             "allowance-0-setups": "40", "allowance-0-things": "50", "allowance-0-megabytes": "5"}  # fmt: skip
    answer = demo_client.post(address, sent)
    assert answer.status_code == 302, said(answer)
    found = {use.name: use.most for use in uses_of(stranger)}
    assert (found["shoots"], found["setups"], found["lenses"], found["megabytes"]) == (3, 40, 50, 5)
    assert {use.name: use.most for use in uses_of(demo.owner)}["shoots"] == 300


def test_as_many_as_there_may_be_is_the_last_that_fits(demo_client: Any, demo: Shoot) -> None:
    count = Filter.objects.filter(owner=demo.owner).count()
    limits = Allowance.objects.create(owner=demo.owner, things=count + 1)
    assert demo_client.post("/kit/filter/new/", {**ND, "name": "The last"}).status_code == 302
    assert demo_client.post("/kit/filter/new/", {**ND, "name": "Too many"}).status_code == 422
    assert Filter.objects.filter(owner=demo.owner).count() == limits.things
