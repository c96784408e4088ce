"""Scores with bow marks in other wrappings: MEI of the part, and compressed MusicXML."""

import io
import zipfile
from collections.abc import Mapping
from xml.sax.saxutils import quoteattr

from lxml import etree

from pathway.core.rig.bow import Direction
from pathway.formats.mei import without_bow_marks
from pathway.formats.mei_elements import NS, XML_ID
from pathway.formats.safe_files import parse_xml

_SIGNS = {Direction.DOWN: "dnbow", Direction.UP: "upbow"}
_CONTAINER = (
    '<?xml version="1.0" encoding="UTF-8"?>\n<container><rootfiles>'
    '<rootfile full-path={} media-type="application/vnd.recordare.musicxml+xml"/></rootfiles></container>\n'
)


def write_mei_marks(mei: str, marks: Mapping[str, Direction]) -> bytes:
    """Return a part as MEI with a bow mark on each note or chord; marks that were printed before are replaced.

    Args:
        mei: of one part, as it was read.
        marks: by the id of a note, or of a chord's first head.
    """
    root = parse_xml(without_bow_marks(mei).encode())
    for note in root.iter(f"{NS}note"):
        way = marks.get(note.get(XML_ID, ""))
        if way is not None:
            parent = note.getparent()
            holder = parent if parent is not None and parent.tag == f"{NS}chord" else note
            etree.SubElement(holder, f"{NS}artic", artic=_SIGNS[way], place="above")
    return bytes(etree.tostring(root, encoding="UTF-8", xml_declaration=True))


def write_mxl(document: bytes, name: str = "score.musicxml") -> bytes:
    """Return a MusicXML document compressed, as readers of .mxl expect it."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("mimetype", "application/vnd.recordare.musicxml", zipfile.ZIP_STORED)
        archive.writestr("META-INF/container.xml", _CONTAINER.format(quoteattr(name)))
        archive.writestr(name, document)
    return out.getvalue()
