"""Small hints over the sheet, one at a time; they can be switched off in the settings."""

TIPS = (
    "Drag the round end of a ribbon to say where a stroke ends; the strokes after it follow.",
    "Click the sign over a note to turn its bow; it stays as you set it.",
    "Shift and the arrow keys take in more notes; a key then sets all of them.",
    "The open diamond beside a value keeps it as it is; the key l keeps the whole bow.",
    "Rest on a help and its effect lies over the sheet before you take it.",
    "A mark between two lines of the string track is a crossing on the hard way round.",
    "Draw over bars in Music to say what they are like; neighbours are weighed against each other.",
    "The slider shows from which tempo every bow is long enough.",
    "Keep a variant, change the plan, and lay the two over each other.",
    "“I hear …” on any note names the likeliest causes and a quick test for each.",
    "A double stop can be taken apart on the bench.",
)


def tip_for(number: int) -> str:
    """Return the tip for a piece that has been changed so many times."""
    return TIPS[number % len(TIPS)]
