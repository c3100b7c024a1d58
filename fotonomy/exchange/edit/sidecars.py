"""XMP sidecars (ISO 16684-1) with a rating and keywords, to lie beside the stills."""

from dataclasses import dataclass
from xml.etree import ElementTree as ET

_X, _RDF = "adobe:ns:meta/", "http://www.w3.org/1999/02/22-rdf-syntax-ns#"
_XMP, _DC = "http://ns.adobe.com/xap/1.0/", "http://purl.org/dc/elements/1.1/"
_XML = "{http://www.w3.org/XML/1998/namespace}lang"
for _prefix, _space in (("x", _X), ("rdf", _RDF), ("xmp", _XMP), ("dc", _DC)):
    ET.register_namespace(_prefix, _space)


@dataclass(frozen=True, slots=True)
class Sidecar:
    """What is said of a still: -1 rejected to 5, keywords, a title and a description."""

    file: str
    rating: int
    keywords: tuple[str, ...]
    title: str = ""
    description: str = ""

    @property
    def name(self) -> str:
        """The sidecar's own name: that of the still with another ending."""
        return f"{self.file.rsplit('.', 1)[0]}.xmp"


def to_xmp(one: Sidecar) -> bytes:
    """The sidecar as UTF-8."""
    root = ET.Element(f"{{{_X}}}xmpmeta")
    rdf = ET.SubElement(root, f"{{{_RDF}}}RDF")
    about = ET.SubElement(rdf, f"{{{_RDF}}}Description", {f"{{{_RDF}}}about": ""})
    ET.SubElement(about, f"{{{_XMP}}}Rating").text = str(one.rating)
    for tag, text in (("title", one.title), ("description", one.description)):
        if text:
            several = ET.SubElement(ET.SubElement(about, f"{{{_DC}}}{tag}"), f"{{{_RDF}}}Alt")
            ET.SubElement(several, f"{{{_RDF}}}li", {_XML: "x-default"}).text = text
    if one.keywords:
        bag = ET.SubElement(ET.SubElement(about, f"{{{_DC}}}subject"), f"{{{_RDF}}}Bag")
        for word in one.keywords:
            ET.SubElement(bag, f"{{{_RDF}}}li").text = word
    return bytes(ET.tostring(root, encoding="utf-8", xml_declaration=True))
