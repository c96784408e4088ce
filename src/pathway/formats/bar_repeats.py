"""Bars that are a sign for the ones before, written out: the notes that it stands for are played and bowed."""

from collections.abc import Iterator
from copy import deepcopy

from lxml import etree

from pathway.formats.mei_elements import NS, XML_ID

_SIGNS = {f"{NS}mRpt": 1, f"{NS}mRpt2": 2, f"{NS}multiRpt": 2}  # bars that each stands for, where it does not say
MOST = 16  # bars of one sign
_BARS = "bars"  # of our own: a num of MEI only counts signs, but for one of many bars


def bars_of_signs(part: etree._Element) -> dict[int, int]:
    """Return of a MusicXML part in which bars, by index, a sign stands for more than the one before: for how many."""
    found, now = dict[int, int](), 0
    for index, bar in enumerate(part.findall("measure")):
        for sign in bar.iterfind("attributes/measure-style/measure-repeat"):
            said = (sign.text or "").strip()
            now = int(said) if sign.get("type") == "start" and said.isdecimal() and len(said) < 3 else 0
        if 1 < now <= MOST:
            found[index] = now
    return found


def say_how_many(root: etree._Element, bars: dict[int, int]) -> None:
    """Say in MEI for how many bars a sign stands, which the engraver does not hand on."""
    for index, measure in enumerate(root.iter(f"{NS}measure")):
        for sign in measure.iter(f"{NS}mRpt") if index in bars else ():
            sign.set(_BARS, str(bars[index]))


def write_out(root: etree._Element) -> list[str]:
    """Put the notes of the bars before in place of every sign that repeats them; return the numbers of these bars.

    The copies have ids of their own, which no note of the player's document has.
    """
    told, played = list[str](), dict[tuple[str, str], list[etree._Element]]()
    waiting = dict[tuple[str, str], tuple[int, int]]()  # bars that a sign still stands for, and of how many
    for measure in root.iter(f"{NS}measure"):
        for voice, layer in _layers(measure):
            before = played.setdefault(voice, [])
            sign = next((child for child in layer if child.tag in _SIGNS), None)
            left, back = waiting.pop(voice, (0, 0))
            if sign is not None:
                back = _bars_of(sign)
                left = 1 if sign.tag == f"{NS}mRpt" else back
            if left and len(before) >= back:
                _repeat(layer, before[-back], f"-{len(told) + 1}")
                told.append(measure.get("n", ""))
                if left > 1:
                    waiting[voice] = left - 1, back
            before.append(layer)
    return list(dict.fromkeys(told))


def _bars_of(sign: etree._Element) -> int:
    """Return for how many bars before it a sign stands."""
    said = sign.get("num" if sign.tag == f"{NS}multiRpt" else _BARS) or ""
    bars = int(said) if said.isdecimal() and len(said) < 3 else 0
    return min(bars or _SIGNS[str(sign.tag)], MOST)


def _layers(measure: etree._Element) -> Iterator[tuple[tuple[str, str], etree._Element]]:
    for staff in measure.iter(f"{NS}staff"):
        for layer in staff.iter(f"{NS}layer"):
            yield (staff.get("n", ""), layer.get("n", "")), layer


def _repeat(layer: etree._Element, played: etree._Element, ending: str) -> None:
    """Fill a layer with what another one plays."""
    for child in list(layer):
        layer.remove(child)
    for child in played:
        copy = deepcopy(child)
        for node in copy.iter():
            if XML_ID in node.attrib:
                node.set(XML_ID, f"{str(node.get(XML_ID)).partition('-')[0]}{ending}")
        layer.append(copy)
