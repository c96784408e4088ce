"""What strangers send: whatever an archive or a page of XML holds, the answer is a sentence."""

import random
import zipfile
from io import BytesIO

import pytest

from pathway.demo.loader import DEMO_PIECES
from pathway.errors import PathwayError, ScoreError
from pathway.formats.safe_files import MOST_CONTAINER, parse_xml, unpack
from tests.helpers import THOROUGH

CONTAINER = "META-INF/container.xml"
NAMES = b'<container><rootfiles><rootfile full-path="a.musicxml"/></rootfiles></container>'


def _archive(way: int = zipfile.ZIP_DEFLATED, **members: bytes) -> bytes:
    packed = BytesIO()
    with zipfile.ZipFile(packed, "w", way) as archive:
        for name, content in members.items():
            archive.writestr({"container": CONTAINER, "score": "a.musicxml"}[name], content)
    return packed.getvalue()


@pytest.mark.parametrize("way", [zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED, zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA])
def test_a_damaged_archive_is_refused_in_words(way: int) -> None:
    """Any of its bytes, and any way of packing: read whole, or refused, and never with a library's own words."""
    chance = random.Random(way)
    score = DEMO_PIECES[0].document
    whole = _archive(way, container=NAMES, score=score)
    assert unpack(whole) == score
    refused = []
    for _ in range(150 * THOROUGH):
        damaged = bytearray(whole)
        for _ in range(chance.choice([1, 3, 30])):
            damaged[chance.randrange(len(damaged))] = chance.randrange(256)
        try:
            unpack(bytes(damaged))
        except PathwayError as error:
            refused.append(error.text)
    assert len(refused) > 60 * THOROUGH
    assert not [text for text in refused if "Errno" in text or "zlib" in text or "decompress" in text]


def test_the_page_that_names_the_score_may_not_swell() -> None:
    """It is read up to a limit, and then it is no page."""
    swelling = NAMES[:-12] + b" " * (10 * MOST_CONTAINER) + NAMES[-12:]
    with pytest.raises(ScoreError, match="XML is broken"):
        unpack(_archive(container=swelling, score=b"<score/>"))


@pytest.mark.parametrize(
    "data",
    [
        b"", b"\x00", b'<?xml version="1.0" encoding="martian"?><a/>', b'<?xml version="1.0" encoding="utf-16"?><a/>',
        "<a>\ud800</a>".encode("utf-8", "surrogatepass"), b"<a>\x00</a>", b"<a" * 5000, b"<a>" * 100_000,
        b'<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>'
    ],
)  # fmt: skip
def test_xml_that_is_none_is_refused_in_words(data: bytes) -> None:
    """Encodings that nobody knows, halves of characters, no end."""
    with pytest.raises(ScoreError, match="XML"):
        parse_xml(data)
