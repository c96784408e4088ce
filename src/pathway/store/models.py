"""The tables. Rows stay inside the store."""

from datetime import UTC, date, datetime

from sqlalchemy import (
    JSON,
    Boolean,
    Date,
    DateTime,
    Dialect,
    Float,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    String,
    Text,
    TypeDecorator,
    UniqueConstraint,
)
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship


class Moment(TypeDecorator[datetime]):
    """A time, kept and given back in universal time: the database by itself gives it back without a zone."""

    impl = DateTime(timezone=True)
    cache_ok = True

    def process_bind_param(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Return a time as it is kept."""
        return value and value.astimezone(UTC)

    def process_result_value(self, value: datetime | None, dialect: Dialect) -> datetime | None:
        """Return a time as it is given back."""
        return value and (value if value.tzinfo else value.replace(tzinfo=UTC))


class Base(DeclarativeBase):
    """All tables."""


class PieceRow(Base):
    """One part of one score on the shelf."""

    __tablename__ = "piece"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    title: Mapped[str] = mapped_column(String(300))
    part_name: Mapped[str] = mapped_column(String(200))
    source_name: Mapped[str] = mapped_column(String(300))
    source: Mapped[bytes] = mapped_column(LargeBinary)
    mei: Mapped[str] = mapped_column(Text)
    rig: Mapped[str] = mapped_column(String(100))  # of the present state
    removed_at: Mapped[datetime | None] = mapped_column(Moment)
    demo_key: Mapped[str | None] = mapped_column(String(100), unique=True)
    created_at: Mapped[datetime] = mapped_column(Moment)
    opened_at: Mapped[datetime | None] = mapped_column(Moment)
    last_note: Mapped[str | None] = mapped_column(String(100))
    at: Mapped[int] = mapped_column(Integer, default=0)
    version: Mapped[int] = mapped_column(Integer, default=0)
    revisions: Mapped[list["RevisionRow"]] = relationship(
        back_populates="piece", cascade="all, delete-orphan", order_by="RevisionRow.number"
    )


class RevisionRow(Base):
    """One state of a piece's plan; the history is a line of them."""

    __tablename__ = "revision"
    __table_args__ = (UniqueConstraint("piece_id", "number"),)

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id", ondelete="CASCADE"), index=True)
    number: Mapped[int] = mapped_column(Integer)
    label: Mapped[str] = mapped_column(String(300))
    rig: Mapped[str] = mapped_column(String(100))
    rig_version: Mapped[int] = mapped_column(Integer)  # how often it had changed
    wishes: Mapped[dict[str, object]] = mapped_column(JSON)  # a document of the open formats
    path: Mapped[dict[str, list[float]]] = mapped_column(JSON)
    summary: Mapped[dict[str, object]] = mapped_column(JSON)
    created_at: Mapped[datetime] = mapped_column(Moment)
    piece: Mapped[PieceRow] = relationship(back_populates="revisions")


class HeardRow(Base):
    """What a player heard on a note."""

    __tablename__ = "heard"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id", ondelete="CASCADE"), index=True)
    note: Mapped[str] = mapped_column(String(100))
    what: Mapped[str] = mapped_column(String(60))
    cause: Mapped[str] = mapped_column(String(60), default="")
    created_at: Mapped[datetime] = mapped_column(Moment)


class AsideRow(Base):
    """A finding that the player laid aside, and why."""

    __tablename__ = "aside"
    __table_args__ = (UniqueConstraint("piece_id", "code", "note"),)

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id", ondelete="CASCADE"), index=True)
    code: Mapped[str] = mapped_column(String(60))
    note: Mapped[str] = mapped_column(String(100))
    reason: Mapped[str] = mapped_column(String(300))


class VariantRow(Base):
    """A state of a plan kept under a name, to be compared with others."""

    __tablename__ = "variant"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(100))
    wishes: Mapped[dict[str, object]] = mapped_column(JSON)  # a document of the open formats
    path: Mapped[dict[str, list[float]]] = mapped_column(JSON)
    summary: Mapped[dict[str, object]] = mapped_column(JSON)
    created_at: Mapped[datetime] = mapped_column(Moment)
    removed_at: Mapped[datetime | None] = mapped_column(Moment)


class SetRow(Base):
    """One set of a drill, as it was played."""

    __tablename__ = "practice_set"
    __table_args__ = (  # what pages ask of a long log
        Index("ix_practice_set_drill", "piece_id", "drill", "removed_at", "begun_at"),
        Index("ix_practice_set_log", "removed_at", "begun_at"),
        Index("ix_practice_set_passed", "piece_id", "passed", "drill", "tempo", "removed_at"),
        Index("ix_practice_set_top", "piece_id", "top", "drill", "removed_at"),
    )

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    token: Mapped[str] = mapped_column(String(40), unique=True)  # by which the page names it
    piece_id: Mapped[int | None] = mapped_column(ForeignKey("piece.id", ondelete="SET NULL"), index=True)
    title: Mapped[str] = mapped_column("piece_title", String(300), default="")
    drill: Mapped[str] = mapped_column(String(400))
    why: Mapped[str] = mapped_column(String(60), default="")
    what: Mapped[str] = mapped_column(String(120), default="")
    bars: Mapped[str] = mapped_column(String(200), default="")
    rung: Mapped[int] = mapped_column(Integer)
    rung_name: Mapped[str] = mapped_column(String(200), default="")
    rate: Mapped[float] = mapped_column(Float, default=0.0)  # notes a second
    tempo: Mapped[float] = mapped_column(Float, default=0.0)  # beats a minute
    share: Mapped[float] = mapped_column(Float, default=0.0)  # of the ladder
    passed: Mapped[bool] = mapped_column(Boolean, default=False)
    top: Mapped[bool] = mapped_column(Boolean, default=False)  # the last rung was
    tries: Mapped[list[str]] = mapped_column(JSON, default=list)
    seconds: Mapped[float] = mapped_column(Float, default=0.0)
    hand: Mapped[str] = mapped_column(String(20), default="")
    note: Mapped[str] = mapped_column(String(1000), default="")
    begun: Mapped[datetime] = mapped_column("begun_at", Moment, index=True)
    removed_at: Mapped[datetime | None] = mapped_column(Moment)


class LadderRow(Base):
    """Where a player stands on the ladder of a drill."""

    __tablename__ = "ladder"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    piece_id: Mapped[int | None] = mapped_column(ForeignKey("piece.id", ondelete="CASCADE"), index=True)
    drill: Mapped[str] = mapped_column(String(400))
    climb: Mapped[dict[str, object]] = mapped_column(JSON)


class PerformanceRow(Base):
    """When a piece is to be ready."""

    __tablename__ = "performance"

    piece_id: Mapped[int] = mapped_column(
        ForeignKey("piece.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    day: Mapped[date] = mapped_column(Date)


class PracticeDayRow(Base):
    """What a player changed of the plan of a day."""

    __tablename__ = "practice_day"

    day: Mapped[date] = mapped_column(Date, primary_key=True)
    value: Mapped[dict[str, object]] = mapped_column(JSON)


class TakeRow(Base):
    """A recording of a piece; its sound is a file beside the database, by the token."""

    __tablename__ = "take"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    token: Mapped[str] = mapped_column(String(40), unique=True)
    piece_id: Mapped[int] = mapped_column(ForeignKey("piece.id", ondelete="CASCADE"), index=True)
    name: Mapped[str] = mapped_column(String(100), default="")
    first: Mapped[str] = mapped_column(String(100), default="")  # notes that were played
    last: Mapped[str] = mapped_column(String(100), default="")
    state: Mapped[int] = mapped_column(Integer, default=0)  # of the plan, in its history
    seconds: Mapped[float] = mapped_column(Float, default=0.0)
    begun: Mapped[datetime] = mapped_column("begun_at", Moment)
    figures: Mapped[dict[str, object]] = mapped_column(JSON, default=dict)  # what was heard, once it was listened to
    removed_at: Mapped[datetime | None] = mapped_column(Moment)


class RigRow(Base):
    """A rig of the player's own."""

    __tablename__ = "rig"

    id: Mapped[int] = mapped_column(Integer, primary_key=True)
    name: Mapped[str] = mapped_column(String(100))
    base: Mapped[str] = mapped_column(String(100))
    document: Mapped[dict[str, object]] = mapped_column(JSON)  # a rig file
    version: Mapped[int] = mapped_column(Integer)
    created_at: Mapped[datetime] = mapped_column(Moment)
    removed_at: Mapped[datetime | None] = mapped_column(Moment)


class ChoiceRow(Base):
    """Choices for the whole app."""

    __tablename__ = "choice"

    name: Mapped[str] = mapped_column(String(60), primary_key=True)
    value: Mapped[dict[str, object]] = mapped_column(JSON)


class PendingRow(Base):
    """A score that was dropped on the shelf and waits for the choice of part and rig."""

    __tablename__ = "pending"

    token: Mapped[str] = mapped_column(String(40), primary_key=True)
    filename: Mapped[str] = mapped_column(String(300))
    data: Mapped[bytes] = mapped_column(LargeBinary)
    created_at: Mapped[datetime] = mapped_column(Moment)
