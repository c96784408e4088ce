"""Plans as MIDI files: every note at its time, its loudness as velocity."""

import io

from mido import Message, MetaMessage, MidiFile, MidiTrack

from pathway.core.sound.playable import Playable

TICKS = 480  # a quarter
_BEAT = 0.5  # quarters of the file are so long [s]: its times are those of the plan, whatever the tempo
PROGRAMS = ((0.34, 40), (0.45, 41), (0.80, 42), (9.0, 43))  # open strings shorter than [m]: sound
PLUCKED = 45
_PLAIN, _PER_DB = 76, 2.2  # velocity of a plain mezzo-forte, and of a decibel


def midi(played: Playable, begin: float = 0.0, end: float = float("inf")) -> bytes:
    """Return the notes that begin in a span as a MIDI file; plucked notes are on a channel of their own.

    Args:
        played: bows and notes.
        begin: from here [s].
        end: up to here [s].
    """
    file, track = MidiFile(ticks_per_beat=TICKS), MidiTrack()
    file.tracks.append(track)
    track.append(MetaMessage("set_tempo", tempo=round(_BEAT * 1_000_000)))
    length = played.rig.instrument.length
    program = next(program for below, program in PROGRAMS if length < below)
    track.append(Message("program_change", channel=0, program=program))
    track.append(Message("program_change", channel=1, program=PLUCKED))
    at = 0
    for tick, message in sorted(_events(played, begin, end), key=lambda event: (event[0], event[1].type == "note_on")):
        track.append(message.copy(time=tick - at))
        at = tick
    out = io.BytesIO()
    file.save(file=out)
    return out.getvalue()


def _events(played: Playable, begin: float, end: float) -> list[tuple[int, Message]]:
    found = []
    chosen = [note for note in played.notes if begin <= note.onset < end]
    zero = min((note.onset for note in chosen), default=0.0)
    for note in chosen:
        on, off = (round((time - zero) / _BEAT * TICKS) for time in (note.onset, note.onset + note.sounding))
        pitches = [voice.midi for voice in note.voices] or [one.midi for one in played.plucked.get(note.id, ())]
        level = note.level_db if note.voices else note.target_db
        velocity = min(max(round(_PLAIN + _PER_DB * (level + note.pulse_db)), 1), 127)
        channel = 0 if note.voices else 1
        for pitch in pitches:
            found.append((on, Message("note_on", channel=channel, note=pitch, velocity=velocity)))
            found.append((max(off, on + 1), Message("note_off", channel=channel, note=pitch)))
    return found
