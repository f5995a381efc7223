"""What was published as an Atom feed (RFC 4287)."""

from __future__ import annotations

import datetime as dt
from collections.abc import Sequence
from dataclasses import dataclass
from xml.etree import ElementTree as ET  # nosec B405 - it only writes

ATOM_TYPE = "application/atom+xml"
_SPACE = "http://www.w3.org/2005/Atom"


@dataclass(frozen=True)
class Entry:
    """One page of the feed, by its address."""

    title: str
    href: str
    published: dt.datetime
    author: str
    summary: str


def atom(title: str, address: str, site: str, entries: Sequence[Entry]) -> str:
    """The feed as an XML document.

    Parameters
    ----------
    title : whose feed it is.
    address : of the feed itself, its id too.
    site : what it is the feed of.
    entries : the newest first.
    """
    root = ET.Element("feed", xmlns=_SPACE)
    ET.SubElement(root, "title").text = title
    ET.SubElement(root, "id").text = address
    ET.SubElement(root, "link", rel="self", href=address)
    ET.SubElement(root, "link", href=site)
    newest = max((e.published for e in entries), default=dt.datetime(2000, 1, 1, tzinfo=dt.UTC))
    ET.SubElement(root, "updated").text = newest.isoformat()
    for entry in entries:
        of = ET.SubElement(root, "entry")
        ET.SubElement(of, "title").text = entry.title
        ET.SubElement(of, "id").text = entry.href
        ET.SubElement(of, "link", href=entry.href)
        ET.SubElement(of, "published").text = entry.published.isoformat()
        ET.SubElement(of, "updated").text = entry.published.isoformat()
        ET.SubElement(ET.SubElement(of, "author"), "name").text = entry.author
        ET.SubElement(of, "summary").text = entry.summary
    return ET.tostring(root, encoding="unicode", xml_declaration=True) + "\n"
