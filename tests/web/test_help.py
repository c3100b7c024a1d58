"""The guide and the words, without a log-in; labels and findings that lead there."""

from typing import Any

from lxml import html

from fotonomy.core.glossary import TERMS
from fotonomy.shoots.models import Setup
from tests.web.test_bench import send


def test_the_words_stand_on_one_page_and_can_be_searched(client: Any, db: None) -> None:
    page = html.fromstring(client.get("/guide/words/").content.decode())
    assert len(page.xpath("//article[@id]")) == len(TERMS)
    assert page.xpath("//article[@id='iris']//figure//*[local-name()='svg']")
    few = html.fromstring(client.get("/guide/words/", {"q": "zebra"}).content.decode())
    assert "zebra" in few.xpath("//article/@id")
    assert len(few.xpath("//article")) < 6
    none = client.get("/guide/words/", {"q": "<b>quux"}).content.decode()
    assert "0 of" in none
    assert "<b>quux" not in none


def test_one_word_for_the_box_and_none_for_nonsense(client: Any, db: None) -> None:
    assert "f/2 lets in twice the light" in client.get("/guide/words/iris/").content.decode()
    assert client.get("/guide/words/quux/").status_code == 404


def test_the_guide_stands_in_the_program_with_its_parts(client: Any, db: None) -> None:
    page = html.fromstring(client.get("/guide/").content.decode())
    anchors = [one.lstrip("#") for one in page.xpath("//nav[@class='guide-nav']//ol//a/@href")]
    assert len(anchors) > 8
    assert set(anchors) <= set(page.xpath("//article//@id"))
    assert all(href.startswith(("#", "http")) for href in page.xpath("//article//a/@href"))


def test_labels_tiles_and_findings_lead_to_words(demo_client: Any, adze: Setup) -> None:
    page = send(demo_client, adze, "motion", iris="f/16")
    words = page.xpath("//a[@class='term']")
    assert {"shutter-angle", "iris", "iso", "nd", "cadence"} <= {
        one.get("data-word") for one in words
    }
    assert page.xpath("//article[contains(@class, 'finding')]//a[@class='term']")
    key = words[0].get("data-word")
    assert words[0].get("href") == f"/guide/words/#{key}"
