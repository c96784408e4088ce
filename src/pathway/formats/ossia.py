"""Other versions of a passage printed over or under it: the main one is played."""

from lxml import etree

from pathway.formats.mei_elements import NS

_OTHER = {f"{NS}oStaff": f"{NS}staff", f"{NS}oLayer": f"{NS}layer"}


def main_version(root: etree._Element) -> list[str]:
    """Take other versions out of MEI; return the numbers of the bars that have one."""
    told = []
    for ossia in list(root.iter(f"{NS}ossia")):
        around = ossia.getparent()
        if around is None:
            continue
        bar = next((node for node in ossia.iterancestors(f"{NS}measure")), None)
        told.append("" if bar is None else bar.get("n", ""))
        alone = all(node.getparent() is not around for node in around.iter(*_OTHER.values()))
        for main in [child for child in ossia if child.tag in _OTHER.values()] if alone else []:
            ossia.addprevious(main)
        around.remove(ossia)
    return list(dict.fromkeys(told))
