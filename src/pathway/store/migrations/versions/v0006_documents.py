"""Wishes and rigs as documents of the open formats; each state remembers the rig it was planned on.

What the store kept until now were the fields of the core as they happened to be called, in SI units.
"""

import math
from typing import Any

import sqlalchemy as sa
from alembic import op

from pathway.store.migrations.steps import has_column, make_column, take_column

revision = "0006"
down_revision = "0005"

_DIGITS = 5
_DIRECTIONS, _LINKS = {1: "down", -1: "up"}, {1: "change", 2: "hook", 3: "retake"}
_NAMES = ("C", "C#", "D", "Eb", "E", "F", "F#", "G", "Ab", "A", "Bb", "B")
_SAME_IN_LOCKS = ("note", "profile", "string", "lead", "chord", "exit", "lane", "octave", "vibrato", "from_air")
_RENAMED_IN_LOCKS = {"type": "kind", "slur": "divide", "force_n": "force"}
_SAME_IN_PASSAGES = (
    "character", "colour", "colour_end", "offset_db", "style", "profile", "string", "lead", "chords", "role",
    "vibrato", "stress", "gap", "relation", "id",
)  # fmt: skip


def upgrade() -> None:
    for table in ("revision", "variant"):
        _write_wishes(table)
    _write_rigs()
    _note_rigs()


def _write_wishes(table: str) -> None:
    make_column(table, sa.Column("wishes", sa.JSON, nullable=False, server_default="{}"))
    if not has_column(table, "settings"):
        return
    rows = sa.table(table, sa.column("id"), *(sa.column(name, sa.JSON) for name in ("settings", "locks", "wishes")))
    connection = op.get_bind()
    for row in connection.execute(sa.select(rows.c.id, rows.c.settings, rows.c.locks)).all():
        wishes = wishes_from(row.settings or {}, row.locks or [])
        connection.execute(sa.update(rows).where(rows.c.id == row.id).values(wishes=wishes))
    take_column(table, "settings")
    take_column(table, "locks")


def _write_rigs() -> None:
    rigs = sa.table("rig", sa.column("id"), sa.column("document", sa.JSON))
    connection = op.get_bind()
    for row in connection.execute(sa.select(rigs.c.id, rigs.c.document)).all():
        if "torque_limit" in row.document:
            connection.execute(sa.update(rigs).where(rigs.c.id == row.id).values(document=rig_from(row.document)))


def _note_rigs() -> None:
    make_column("revision", sa.Column("rig", sa.String(100), nullable=False, server_default=""))
    make_column("revision", sa.Column("rig_version", sa.Integer, nullable=False, server_default="0"))
    if not has_column("piece", "rig_version"):
        return
    pieces = sa.table("piece", *map(sa.column, ("id", "rig", "rig_version")))
    states = sa.table("revision", *map(sa.column, ("piece_id", "rig", "rig_version")))
    connection = op.get_bind()
    for row in connection.execute(sa.select(pieces)).all():
        of_piece = sa.update(states).where(states.c.piece_id == row.id)
        connection.execute(of_piece.values(rig=row.rig, rig_version=row.rig_version))
    take_column("piece", "rig_version")


def wishes_from(settings: dict[str, Any], locks: list[dict[str, Any]]) -> dict[str, Any]:
    """Return the wish document of a state as it was kept before."""
    return {
        **_some(settings, ("tempo_bpm", "style", "chords_before_beat")),
        "tempi": [{"at": one["note"], "bpm": one["beats_per_minute"]} for one in settings.get("tempi", [])],
        "tuning": [_pitch(midi) for midi in settings.get("tuning", [])],
        "passages": [_passage(one) for one in settings.get("passages", [])],
        "locks": [_lock(one) for one in locks],
    }


def _some(block: dict[str, Any], keys: tuple[str, ...]) -> dict[str, Any]:
    return {key: block[key] for key in keys if block.get(key) is not None}


def _pitch(midi: int) -> str:
    return f"{_NAMES[midi % 12]}{midi // 12 - 1}"


def _cm(metres: float) -> float:
    return round(100 * metres, _DIGITS)


def _degrees(radians: float) -> float:
    return round(math.degrees(radians), _DIGITS)


def _lock(old: dict[str, Any]) -> dict[str, Any]:
    return {
        **_some(old, _SAME_IN_LOCKS),
        **({"direction": _DIRECTIONS[old["direction"]]} if old.get("direction") else {}),
        **({"link": _LINKS[old["link"]]} if old.get("link") else {}),
        **{f"{key}_cm": _cm(old[key]) for key in ("start", "end") if old.get(key) is not None},
        **{new: old[key] for new, key in _RENAMED_IN_LOCKS.items() if old.get(key) is not None},
        **({"tilt_deg": _degrees(old["tilt"])} if old.get("tilt") is not None else {}),
        **({"voicing": [_pitch(midi) for midi in old["voicing"]]} if old.get("voicing") else {}),
    }


def _passage(old: dict[str, Any]) -> dict[str, Any]:
    return {
        "from": old["start"],
        "to": old["end"],
        **_some(old, _SAME_IN_PASSAGES),
        **({"type": old["kind"]} if old.get("kind") is not None else {}),
        **({"keep_back_cm": _cm(old["keep_back"])} if old.get("keep_back") is not None else {}),
    }


def rig_from(old: dict[str, Any]) -> dict[str, Any]:
    """Return the rig file of a rig as it was kept before."""
    pull = old.get("says_pull")
    return {
        "key": old["key"],
        "instrument": _instrument(old["instrument"]),
        "bow": _bow(old["bow"]),
        "hold": old["hold"]["name"],
        "index_lever_cm": _cm(old["hold"]["index_lever"]),
        "torque_limit_nm": old["torque_limit"],
        "strong": _DIRECTIONS[old.get("strong", 1)],
        "hard_way": old.get("hard_way", 0),
        "usable_cm": [_cm(old.get("frog_margin", 0.01)), _cm(old["bow"]["hair"] - old.get("tip_margin", 0.01))],
        "lifts_to_cross": old.get("lifts_to_cross", True),
        "tilt_habit_deg": _degrees(old.get("tilt_habit", 0.0)),
        "directions": "by hold" if pull is None else "pull and push" if pull else "down and up",
        **_staccato(old),
    }


def _instrument(old: dict[str, Any]) -> dict[str, Any]:
    return {
        "name": old["name"],
        "strings": [
            {
                **{key: string[key] for key in ("name", "midi", "gravity_share")},
                "tension_n": string["tension"],
                **({"ring_s": string["ring"]} if "ring" in string else {}),
                **({"stick_deg": _degrees(string["aside"])} if "aside" in string else {}),
            }
            for string in old["strings"]
        ],
        "vibrating_cm": _cm(old["length"]),
        **{f"{key}_cm": _cm(old[key]) for key in ("gap", "spacing", "bridge_radius")},
        "drive_mf_m_s": old["drive_mf"],
        "loss_ratio": old["loss"],
        "plain_place": old["plain_place"],
        "comfort_force_n": old["comfort_force"],
        **_some(old, ("octave_down", "held_down")),
    }


def _bow(old: dict[str, Any]) -> dict[str, Any]:
    inertia = old.get("measured_inertia")
    return {
        "name": old["name"],
        "mass_g": round(1000 * old["mass"], _DIGITS),
        **{f"{key}_cm": _cm(old[key]) for key in ("hair", "stick", "centre", "pivot")},
        "tension_n": old["tension"],
        **{f"{key}_mm": round(1000 * old[key], _DIGITS) for key in ("ribbon", "clearance")},
        "turns": old.get("turns", 0.0),
        "inertia_g_m2": None if inertia is None else round(1000 * inertia, _DIGITS),
    }


def _staccato(old: dict[str, Any]) -> dict[str, Any]:
    if "staccato" not in old:
        return {"staccato_per_second": old.get("staccato_rate")}
    blocks = {}
    for name, one in zip(("staccato_down", "staccato_up"), old["staccato"], strict=True):
        low, high = one.get("stretch") or (None, None)
        ends = {"from_cm": None if low is None else _cm(low), "to_cm": None if high is None else _cm(high)}
        blocks[name] = {"per_second": one.get("rate"), **ends}
    return blocks
