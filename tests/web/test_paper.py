"""Paper to carry: what stands on it, and that the PDF says the same, read by another library."""

import re
from io import BytesIO
from typing import Any

import pytest
from lxml import html
from pypdf import PdfReader

from fotonomy.core.analysis.packing import camera_loads
from fotonomy.core.notation.writing import format_number
from fotonomy.core.plan import plan
from fotonomy.shoots.mapping import spec_of
from fotonomy.shoots.models import Setup, Shoot
from fotonomy.shoots.packed_kit import packed_kit
from fotonomy.shoots.presenters.packing import SectionView, ThingView
from fotonomy.shoots.presenters.paper import PackingPaper
from fotonomy.shoots.services.shoots import make_shoot
from fotonomy.web import pdf as site_pdf
from fotonomy.web.pdf import pdf_of

PAPERS = ("call-sheet", "cards", "packing")


def page_of(client: Any, shoot: Shoot, which: str) -> Any:
    answer = client.get(f"/shoots/{shoot.pk}/paper/{which}/")
    assert answer.status_code == 200
    return html.fromstring(answer.content.decode())


def read_pdf(client: Any, shoot: Shoot, which: str) -> PdfReader:
    answer = client.get(f"/shoots/{shoot.pk}/paper/{which}.pdf")
    assert answer.status_code == 200
    assert answer["Content-Type"] == "application/pdf"
    assert answer["Content-Disposition"] == f'attachment; filename="keel-to-tide-{which}.pdf"'
    return PdfReader(BytesIO(answer.content))


def words(text: str) -> str:
    return " ".join(text.split())


def test_a_call_sheet_is_a_line_a_setup(demo_client: Any, demo: Shoot) -> None:
    page = page_of(demo_client, demo, "call-sheet")
    rows = page.xpath("//tbody/tr[not(@class='stop')]")
    assert len(rows) == demo.setups.count() == 12
    adze = next(words(row.text_content()) for row in rows if "Adze chips" in row.text_content())
    for said in ("13:45", "4B", "slow motion", "A-cam, 4K", "Standard 50", "100 fps", "180° 1/200",
                 "f/4", "500", "6500", "0.9 3 stops", "Clear filter on: oak splinters."):  # fmt: skip
        assert said in adze
    # What a crew works from: hours, light, ways with when to leave, boxes to tick.
    stops = [words(row.text_content()) for row in page.xpath("//tr[@class='stop']")]
    assert stops[0].startswith("Tern Slip, mill from call · −43.1200, 147.0500")
    # Planned for 09:30 with 20 min to prepare and 8 min on the way: both are the demo's own.
    assert stops[1].startswith("09:02 → Yard and saw 8 min")
    assert "open 08:30 to 18:00" in stops[1]
    assert all(len(row.xpath(".//span[@class='box']")) == 3 for row in rows)
    head = words(page.xpath("//header")[0].text_content())
    for said in ("Saturday 5 June 2027", "Call 06:30 · wrap 19:00", "day 1 of 2", "sunset 16:44",
                 "sunrise 07:36", "moon 0 % lit", "°C"):  # fmt: skip
        assert said in head
    # What it fills and draws is of this day's setups alone, as packing adds it up.
    kit = packed_kit(demo)
    shot = [plan(spec_of(row, kit)).analysis for row in demo.setups.filter(day=demo.first_day)]
    said = words(page.xpath("(//p[@class='sheet-needs'])[1]")[0].text_content())
    for load in camera_loads(shot):
        size = format_number(load.size_gb, 0 if load.size_gb >= 10 else 1)
        assert f"{load.body}: {size} GB on {load.cards} card" in said
    first = words(rows[0].text_content())
    assert "✕ The remote stops after 99 frames." in first


def test_a_card_says_what_to_set_with_what_and_what_to_mind(demo_client: Any, demo: Shoot) -> None:
    cards = page_of(demo_client, demo, "cards").xpath("//article[@class='card']")
    assert len(cards) == 12
    trolley = next(words(c.text_content()) for c in cards if "Trolley" in c.text_content())
    for said in ("Polariser", "Wide 20", "270°", "Carried by", "planned for EV", "on screen"):
        assert said in trolley
    caulking = next(words(c.text_content()) for c in cards if "Caulking" in c.text_content())
    assert "▲" in caulking
    # Paper without drawings, but for the code that a phone reads.
    assert html.tostring(cards[0]).decode().count("<svg") == 1


def test_the_packing_list_has_what_is_packed(demo_client: Any, demo: Shoot) -> None:
    demo.packs_all = False
    demo.save()
    body = demo.owner.body_set.get(name="A-cam")
    demo.bodies.set([body])
    page = page_of(demo_client, demo, "packing")
    assert [words(li.text_content()) for li in page.xpath("//li")] == ["A-cam 11 setups"]
    assert "B-cam" in page.xpath("//p[@class='must']")[0].text_content()


@pytest.mark.parametrize("which", PAPERS)
def test_the_pdf_says_what_the_page_says(demo_client: Any, demo: Shoot, which: str) -> None:
    page = page_of(demo_client, demo, which)
    read = read_pdf(demo_client, demo, which)
    text = words(" ".join(sheet.extract_text() for sheet in read.pages))
    said = {words(one) for one in page.xpath("//main//text()") if len(words(one)) > 3}
    # A line that breaks in the middle of a word or name is still there letter by letter.
    packed = re.sub(r"\s", "", text)
    missing = {one for one in said if re.sub(r"\s", "", one) not in packed}
    # What breaks over two lines of a cell beside another cell is parted in the text of a PDF.
    assert len(missing) <= len(said) / 10, missing
    sizes = {"call-sheet": (842, 595), "cards": (420, 595), "packing": (595, 842)}
    width, height = (float(side) for side in read.pages[0].mediabox[2:])
    # ISO 216: A4 is 210 × 297 mm, A5 148 × 210 mm; a point is 1/72 inch.
    assert (round(width), round(height)) == sizes[which]
    if which == "cards":
        assert len(read.pages) == 12
    fonts = {f["/BaseFont"].split("+")[-1] for sheet in read.pages
             for f in (ref.get_object() for ref in sheet["/Resources"]["/Font"].values())}  # fmt: skip
    assert any("Archivo" in name for name in fonts)


def test_typed_markup_stays_text_and_reads_no_file(demo_client: Any, adze: Setup) -> None:
    adze.notes = '<img src="file:///etc/passwd"> <b>hand</b>\nsecond line'
    adze.save()
    page = page_of(demo_client, adze.shoot, "cards")
    assert not page.xpath("//main//img")
    assert "<b>hand</b>" in page.text_content()
    text = " ".join(s.extract_text() for s in read_pdf(demo_client, adze.shoot, "cards").pages)
    assert "<b>hand</b>" in words(text)


def test_pdfs_read_nothing_but_our_own_styles(tmp_path: Any) -> None:
    secret = tmp_path / "secret.css"
    secret.write_text("body::before { content: 'leaked' }")
    for address in (secret.as_uri(), "http://127.0.0.1:9/x.css", "web/../../../settings/base.py"):
        made = pdf_of(f'<link rel="stylesheet" href="{address}"><p>plain</p>')
        text = PdfReader(BytesIO(made)).pages[0].extract_text()
        assert "leaked" not in text
        assert "plain" in text


def test_a_setup_that_cannot_be_planned_says_so_on_paper(demo_client: Any, adze: Setup) -> None:
    Setup.objects.filter(pk=adze.pk).update(iris=-1.0)
    for which in ("call-sheet", "cards"):
        assert "cannot be planned: iris" in page_of(demo_client, adze.shoot, which).text_content()
        read_pdf(demo_client, adze.shoot, which)


def test_an_empty_shoot_and_somebody_elses_and_no_such_paper(
    client: Any, demo: Shoot, stranger: Any
) -> None:
    client.force_login(stranger)
    own = make_shoot(stranger, name="Keel to Tide", date="2027-03-02")
    for which in PAPERS:
        page_of(client, own, which)
        read_pdf(client, own, which)
        assert client.get(f"/shoots/{demo.pk}/paper/{which}/").status_code == 404
        assert client.get(f"/shoots/{demo.pk}/paper/{which}.pdf").status_code == 404
    assert client.get(f"/shoots/{own.pk}/paper/napkin/").status_code == 404


def test_without_pango_the_page_says_how_to_print(
    demo_client: Any, demo: Shoot, monkeypatch: pytest.MonkeyPatch
) -> None:
    def lacks() -> Any:
        raise site_pdf.NoPdfError("This server cannot make PDFs: it lacks Pango.")

    monkeypatch.setattr(site_pdf, "_library", lacks)
    answer = demo_client.get(f"/shoots/{demo.pk}/paper/cards.pdf", follow=True)
    assert "lacks Pango" in answer.content.decode()


def section(title: str, count: int) -> SectionView:
    things = tuple(ThingView(at, f"{title} {at}", True, ()) for at in range(count))
    return SectionView(title.lower(), title, things)


@pytest.mark.parametrize(
    ("counts", "left", "right"),
    [((4, 4), [("A", 4)], [("B", 4)]), ((10,), [("A", 4)], [("A, more", 6)]),
     ((2, 8), [("A", 2), ("B", 1)], [("B, more", 7)]), ((1, 1), [("A", 1)], [("B", 1)]),
     ((5, 1, 1), [("A", 5)], [("B", 1), ("C", 1)]), ((1,), [("A", 1)], None), ((), [], None)],
)  # fmt: skip
def test_a_packing_list_stands_in_two_columns(counts: Any, left: Any, right: Any) -> None:
    """Everything is there once and in its order, half of the lines on either side."""
    sections = tuple(section(title, count) for title, count in zip("ABC", counts, strict=False))
    columns = PackingPaper(sections, (), ()).columns
    found = [[(one.title, len(one.things)) for one in column] for column in columns]
    assert found == [left, right][: 1 if right is None else 2]
    names = [thing.name for column in columns for one in column for thing in one.things]
    assert names == [thing.name for one in sections for thing in one.things]


def test_looking_at_a_paper_loads_what_pdfs_need_once(
    demo_client: Any, demo: Shoot, monkeypatch: Any
) -> None:
    begun = list[str]()

    class Started:
        def __init__(self, target: Any, daemon: bool, name: str) -> None:
            self.target = target

        def start(self) -> None:
            begun.append(self.target.__name__)
            self.target()

    monkeypatch.setattr(site_pdf, "Thread", Started)
    site_pdf._styles.cache_clear()
    for which in ("cards", "packing"):
        assert demo_client.get(f"/shoots/{demo.pk}/paper/{which}/").status_code == 200
    assert begun == ["_warmed"]
    assert site_pdf._styles.cache_info().currsize == 1


def test_a_day_of_twelve_setups_is_one_sheet(demo_client: Any, demo: Shoot) -> None:
    demo.setups.update(day=demo.first_day)
    assert demo.setups.count() == 12
    assert len(read_pdf(demo_client, demo, "call-sheet").pages) == 1


@pytest.mark.parametrize(
    ("which", "size"), [("call-sheet", (792, 612)), ("cards", (396, 612)), ("packing", (612, 792))]
)
def test_papers_come_in_letter_too(
    demo_client: Any, demo: Shoot, which: str, size: tuple[int, int]
) -> None:
    """ANSI A is 8.5 x 11 inches of 72 points (ANSI/ASME Y14.1, from memory); a card is half."""
    answer = demo_client.get(f"/shoots/{demo.pk}/paper/{which}.pdf?size=letter")
    box = PdfReader(BytesIO(answer.content)).pages[0].mediabox
    assert (round(box.width), round(box.height)) == size


def test_a_sheet_of_a_place_nobody_located_says_so(demo_client: Any, demo: Shoot) -> None:
    demo.places.update(latitude_deg=None, longitude_deg=None)
    page = page_of(demo_client, demo, "call-sheet")
    assert "light not known: say where the place is" in page.text_content()
    assert not page.xpath("//div[@class='light-band']")
    # The ways were typed: they stand without the degrees.
    assert "8 min" in page.xpath("//tr[@class='stop']")[1].text_content()
