"""A shorthand for small pieces, and what it means as MusicXML. The demo pieces and many tests are written in it.

A line `key: value` sets title, part, clef, fifths, meter, tempo; the rest is music. Bars end with |. A note is
pitch and octave (d4, f#4, eb5), or r for a rest, with :value (4, 8., 16) where the value changes. Before it: ( opens a
slur, v or n a bow mark (up, down). After it: ) closes a slur, ~ ties on, . dot, - dash, > accent, ^ strong accent,
! wedge. Pitches joined by + are a chord. Alone: [p] a dynamic, [<] [>] [*] hairpins, {words}, |: and :| repeats.
"""

import re
from xml.sax.saxutils import escape

from pathway.errors import ScoreError

DIVISIONS = 12
TYPES = {"1": "whole", "2": "half", "4": "quarter", "8": "eighth", "16": "16th"}
_CLEFS = {"treble": ("G", 2), "alto": ("C", 3), "bass": ("F", 4)}
_SIGNS = {
    ".": "<articulations><staccato/></articulations>",
    "-": "<articulations><tenuto/></articulations>",
    ">": "<articulations><accent/></articulations>",
    "^": '<articulations><strong-accent type="up"/></articulations>',
    "!": "<articulations><staccatissimo/></articulations>",
}
NOTE = re.compile(
    r"^(?P<bow>[vn]?)(?P<open>\(*)(?P<pitch>r|[a-g][#b]?\d)(:(?P<value>\d+)(?P<dot>d?))?(?P<after>[)~.\->^!+]*)$"
)
_CHORD = re.compile(
    r"^(?P<before>[vn]?\(*)(?P<pitches>[a-g][#b]?\d(\+[a-g][#b]?\d)+)(?P<value>:\d+d?)?(?P<after>[)~.\->^!]*)$"
)


class Composer:
    """One piece."""

    def __init__(self, head: dict[str, str]) -> None:
        self.head, self.value, self.dotted = head, "4", False
        self.tied = self.chord = False
        self.at = 0  # in the bar, in divisions

    def note(self, token: str) -> str:
        """Return one note as MusicXML."""
        match = NOTE.match(token)
        if match is None:
            raise ScoreError(f"The shorthand does not know {token!r}", place=self.head["title"])
        if match["value"]:
            self.value, self.dotted = match["value"], bool(match["dot"])
        length = DIVISIONS * 4 // int(self.value) * (3 if self.dotted else 2) // 2
        after, pitch = match["after"], match["pitch"]
        parts = ["<note>", "<chord/>" if self.chord else ""]
        if pitch == "r":
            parts.append("<rest/>")
        else:
            alter = {"#": "<alter>1</alter>", "b": "<alter>-1</alter>"}.get(pitch[1:-1], "")
            parts.append(f"<pitch><step>{pitch[0].upper()}</step>{alter}<octave>{pitch[-1]}</octave></pitch>")
        parts.append(f"<duration>{length}</duration>")
        ties = ([("stop")] if self.tied else []) + (["start"] if "~" in after else [])
        parts += [f'<tie type="{kind}"/>' for kind in ties]
        parts.append(f"<voice>1</voice><type>{TYPES[self.value]}</type>{'<dot/>' if self.dotted else ''}")
        notations = [f'<tied type="{kind}"/>' for kind in ties]
        notations += ['<slur number="1" type="start"/>'] * len(match["open"])
        notations += ['<slur number="1" type="stop"/>'] * after.count(")")
        notations += [_SIGNS[sign] for sign in after if sign in _SIGNS]
        if match["bow"]:
            notations.append(f"<technical><{'up' if match['bow'] == 'v' else 'down'}-bow/></technical>")
        beam_at = self.at if pitch != "r" and int(self.value) >= 8 and not self.chord else -1
        parts.append(f"<!--beam {beam_at} {length}-->")
        if not self.chord:
            self.at += length
        if notations:
            parts.append(f"<notations>{''.join(notations)}</notations>")
        self.tied, self.chord = "~" in after, "+" in after
        return "".join(parts) + "</note>"

    def token(self, token: str) -> str:
        """Return one token as MusicXML."""
        if token.startswith("{"):
            words = escape(token[1:-1].replace("_", " "))
            return f'<direction placement="above"><direction-type><words>{words}</words></direction-type></direction>'
        if token.startswith("["):
            sign = token[1:-1]
            kinds = {"<": "crescendo", ">": "diminuendo", "*": "stop"}
            inner = f'<wedge type="{kinds[sign]}"/>' if sign in kinds else f"<dynamics><{sign}/></dynamics>"
            return f'<direction placement="below"><direction-type>{inner}</direction-type></direction>'
        return self.note(token)

    def measure(self, number: int, text: str, last: bool) -> str:
        """Return one bar."""
        head = self.head
        opening = ""
        if number == 1:
            sign, line = _CLEFS[head["clef"]]
            beats, unit = head["meter"].split("/")
            transpose = (
                "<transpose><diatonic>0</diatonic><chromatic>0</chromatic><octave-change>-1</octave-change></transpose>"
            )
            opening = (
                f"<attributes><divisions>{DIVISIONS}</divisions><key><fifths>{head['fifths']}</fifths></key>"
                f"<time><beats>{beats}</beats><beat-type>{unit}</beat-type></time>"
                f"<clef><sign>{sign}</sign><line>{line}</line></clef>"
                f"{transpose if head.get('octave') == 'down' else ''}</attributes>"
                f'<direction placement="above"><direction-type><metronome><beat-unit>quarter</beat-unit>'
                f"<per-minute>{head['tempo']}</per-minute></metronome></direction-type>"
                f'<sound tempo="{head["tempo"]}"/></direction>'
            )
        tokens = [inner for token in text.split() for inner in _spread(token)]
        forward, backward = "|:" in tokens, ":|" in tokens
        tokens = [t for t in tokens if t not in {"|:", ":|"}]
        left = '<barline location="left"><repeat direction="forward"/></barline>' if forward else ""
        right = ""
        if backward or last:
            repeat = '<repeat direction="backward"/>' if backward else ""
            right = f'<barline location="right"><bar-style>light-heavy</bar-style>{repeat}</barline>'
        self.at = 0
        body = _beamed("\n      ".join(self.token(token) for token in tokens))
        return f'    <measure number="{number}">{left}{opening}\n      {body}\n    {right}</measure>'


def _spread(token: str) -> list[str]:
    """Return a chord, such as (d4+b4:2), as one token for each of its pitches; signs stand with the first."""
    match = _CHORD.match(token)
    if match is None:
        return [token]
    pitches = [pitch for pitch in match["pitches"].split("+") if pitch]
    tie = "~" if "~" in match["after"] else ""
    first = f"{match['before']}{pitches[0]}{match['value'] or ''}{match['after']}+"
    return [first, *(f"{pitch}{tie}+" for pitch in pitches[1:-1]), pitches[-1] + tie]


def _beamed(body: str) -> str:
    """Put beams over the short notes of each beat, where the notes left word of their place."""
    marks = [(m.group(), int(m[1]), int(m[2])) for m in re.finditer(r"<!--beam (-?\d+) (\d+)-->", body)]
    for i, (mark, at, length) in enumerate(marks):
        beat = at // DIVISIONS if at >= 0 else None
        before = i > 0 and beat is not None and marks[i - 1][1] >= 0 and marks[i - 1][1] // DIVISIONS == beat
        after = i + 1 < len(marks) and beat is not None and marks[i + 1][1] // DIVISIONS == beat
        state = {(True, True): "continue", (False, True): "begin", (True, False): "end"}.get((before, after))
        beams = f'<beam number="1">{state}</beam>' if state else ""
        if state and length < DIVISIONS // 2:
            beams += f'<beam number="2">{state}</beam>'
        body = body.replace(mark, beams, 1)
    return body


def compose(text: str) -> str:
    """Return a piece in shorthand as MusicXML."""
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    head = dict(line.split(": ", 1) for line in lines if re.match(r"^\w+: ", line))
    music = " ".join(line for line in lines if not re.match(r"^\w+: ", line))
    bars = [bar.strip() for bar in re.split(r"(?<!:)\|(?!:)", music.replace(":|", ":| |")) if bar.strip()]
    composer = Composer(head)
    measures = "\n".join(composer.measure(i, bar, i == len(bars)) for i, bar in enumerate(bars, start=1))
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<score-partwise version="4.0">\n'
        f"  <work><work-title>{escape(head['title'])}</work-title></work>\n"
        f'  <part-list><score-part id="P1"><part-name>{escape(head["part"])}</part-name></score-part></part-list>\n'
        f'  <part id="P1">\n{measures}\n  </part>\n</score-partwise>\n'
    )
