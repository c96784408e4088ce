"""Opens what strangers send: size limits, unpacking, and XML without entity tricks."""

import io
import lzma
import zipfile
import zlib

from lxml import etree

from pathway.errors import ScoreError, TooLarge

MOST_BYTES = 20_000_000  # of an upload
MOST_UNPACKED = 60_000_000
_MOST_FILES = 100
MOST_CONTAINER = 100_000  # of the page that names the score in an archive [bytes]
DAMAGED = (
    zipfile.BadZipFile, zlib.error, lzma.LZMAError, RuntimeError, OSError, ValueError, EOFError,
)  # fmt: skip  # what opening and reading a damaged member of an archive runs into
_CONTAINER = "META-INF/container.xml"


def check_size(size: int) -> None:
    """Refuse more bytes than a score can sensibly have.

    Raises:
        TooLarge: names the size and the limit.
    """
    if size > MOST_BYTES:
        raise TooLarge(
            f"The file has {size / 1e6:.0f} MB; Pathway takes up to {MOST_BYTES / 1e6:.0f}",
            advice="Export the part alone, without pictures or sound.",
        )


def unpack(data: bytes) -> bytes:
    """Return the score inside a compressed MusicXML file.

    Raises:
        ScoreError: not a usable archive.
        TooLarge: it would unpack to too much.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            members = archive.infolist()
            size = sum(member.file_size for member in members)
            if len(members) > _MOST_FILES or size > MOST_UNPACKED:
                raise TooLarge(
                    f"The archive would unpack to {size / 1e6:.0f} MB in {len(members)} files",
                    advice="This is not what a score looks like. Export it again as MusicXML.",
                )
            name = _score_name(archive)
            with archive.open(name) as inner:
                score = inner.read(MOST_UNPACKED + 1)
    except (KeyError, *DAMAGED) as error:
        raise ScoreError("The archive is damaged", advice="Export the score again.") from error
    if len(score) > MOST_UNPACKED:
        raise TooLarge("The archive unpacks to more than it says", advice="Export the score again.")
    return score


def _score_name(archive: zipfile.ZipFile) -> str:
    if _CONTAINER in archive.namelist():
        with archive.open(_CONTAINER) as container:
            root = parse_xml(container.read(MOST_CONTAINER))
        for node in root.iter("{*}rootfile"):
            path = node.get("full-path")
            if path:
                return str(path)
    scores = [n for n in archive.namelist() if n.endswith((".xml", ".musicxml")) and "META-INF" not in n]
    if not scores:
        raise ScoreError("The archive holds no score", advice="Export the score again as MusicXML.")
    return scores[0]


def parse_xml(data: bytes) -> etree._Element:
    """Return the root of an XML document.

    Raises:
        ScoreError: not well-formed (names line and column), or it defines entities of its own.
    """
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=False)
    try:
        root = etree.fromstring(data, parser)
    except etree.XMLSyntaxError as error:
        line, column = error.position
        raise ScoreError(
            "The XML is broken: " + str(error.msg).split(", line")[0].rstrip("."),
            place=f"line {line}, column {column}",
            advice="Open the score in the program it came from and export it again.",
        ) from error
    dtd = root.getroottree().docinfo.internalDTD
    if dtd is not None and any(dtd.iterentities()):  # type: ignore[union-attr]
        raise ScoreError(
            "The file defines XML entities of its own, which Pathway does not open",
            place="document type at the top",
            advice="Export the score again as plain MusicXML.",
        )
    return root
