"""Bars that are a sign for the one before, written out: the notes that it stands for are played and bowed."""

from copy import deepcopy

from lxml import etree

from pathway.formats.mei_elements import NS, XML_ID


def write_out(root: etree._Element) -> list[str]:
    """Put the notes of the bar before in place of every sign that repeats it; return the numbers of these bars.

    The copies have ids of their own, which no note of the player's document has.
    """
    told, before = list[str](), dict[tuple[str, str], etree._Element]()
    for measure in root.iter(f"{NS}measure"):
        for staff in measure.iter(f"{NS}staff"):
            for layer in staff.iter(f"{NS}layer"):
                voice = staff.get("n", ""), layer.get("n", "")
                sign = layer.find(f"{NS}mRpt")
                if sign is not None and voice in before:
                    _repeat(layer, before[voice], f"-{len(told) + 1}")
                    told.append(measure.get("n", ""))
                before[voice] = layer
    return list(dict.fromkeys(told))


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
