"""What a part is played on: by its name in the languages that scores come in, else by its clef and its lowest note."""

import re
from collections.abc import Mapping
from dataclasses import dataclass

_END = r"(?![^\W\d_])"  # no letter goes on; a number may
_WINDS = "clarinet|klarinett|drum|guitar|trombone|posaune|flute|oboe|tuba|horn|voice|trumpet|sax|recorder"
_NAMES: Mapping[str, tuple[str, ...]] = {  # in this order: the violoncello is no violin, the bass viol no bass
    "treble-viol": (rf"treble viol{_END}", "(par)?dessus de viole", "diskantgambe"),
    "bass-viol": (rf"(?<!\w)viols?{_END}", "gamb[ae]|basse de viole|гамб|ガンバ|古大提琴"),
    "cello": (
        rf"cell[oi]{_END}|(?<!\w)(vc|vcl|vlc|vlcl|vcello|влч)\.?{_END}",
        r"violoncel|violonchelo|wiolonczel|виолончел|チェロ|セロ|大提琴|첼로|gordonka|(?<!\w)sello|βιολοντσ|çello|čelo",
    ),
    "bass": (
        rf"(?!.*({_WINDS}))(contrab|kontrab|contreb|double ?bass|string ?bass)",
        rf"(?!.*({_WINDS}))(?<!\w)(cb|kb|d\.? ?b|c\.b|bass[oei]?s?|кб)\.?{_END}",
        "контрабас|コントラバス|低音提琴|倍大提琴|콘트라베이스|더블베이스|nagybőgő|contrabaj|κοντραμπ",
    ),
    "viola": (
        rf"violas?{_END}|(?<!\w)viole{_END}|(?<!\w)(vla|vle|va|br)\.?{_END}|^altos?{_END}(?!\s*[a-z])",
        r"bratsch|bratsj|altówk|(?<!\w)альт|ヴィオラ|ビオラ|中提琴|비올라|brács|alttoviulu|altviool|altfiol|βιόλα|viyola",
    ),
    "violin": (
        rf"violons?{_END}|(?<!\w)(vn|vln|vl|vni|vno|v\.no|vv|скр)i{{0,3}}\.?{_END}",
        r"violin|violí|viulu|(?<!\w)viool|(?<!\w)fiol|geige|fiddle|skrzyp|скрипк|housle|hegedű|vioar|βιολ|keman",
        "ヴァイオリン|バイオリン|小提琴|바이올린",
    ),
}
_FOUND = {key: re.compile("|".join(words), re.IGNORECASE) for key, words in _NAMES.items()}
_USUAL = "violin"
_BY_CLEF = {  # the lowest note that each of them has, the smallest first
    "G": ((55, "violin"), (48, "viola")),
    "C": ((48, "viola"), (36, "cello")),
    "F": ((36, "cello"), (0, "bass")),
}


@dataclass(frozen=True, slots=True)
class RigGuess:
    """The key of a typical rig, and whether the part's name says it."""

    rig: str
    named: bool


def named_rig(name: str) -> str | None:
    """Return the key of the rig that a part's name says; None if it says none."""
    return next((key for key, words in _FOUND.items() if words.search(name)), None)


def guessed_rig(name: str, clef: str = "", lowest: int | None = None) -> RigGuess:
    """Return what a part is played on.

    Args:
        name: of the part.
        clef: its first one, by the letter of its sign; empty where there is none.
        lowest: pitch that is written; None where nothing is known of it.
    """
    key = named_rig(name)
    if key is not None:
        return RigGuess(key, named=True)
    fits = (rig for low, rig in _BY_CLEF.get(clef.upper()[:1], ()) if lowest is None or lowest >= low)
    return RigGuess(next(fits, _USUAL), named=False)
