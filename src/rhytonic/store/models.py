"""Tables. A build is one JSON document; the change log beside it is undo, redo, history and crash safety in one."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, DateTime, ForeignKey, Index, LargeBinary, String, Text, UniqueConstraint, func
from sqlalchemy.dialects.postgresql import JSON
from sqlalchemy.orm import DeclarativeBase, Mapped, deferred, mapped_column


class Base(DeclarativeBase):
    type_annotation_map = {dict[str, Any]: JSON, list[Any]: JSON}  # noqa: RUF012 — SQLAlchemy reads it from the class


class BuildRow(Base):
    """One build. ``revision`` grows with every change, undo and redo included."""

    __tablename__ = "builds"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    document: Mapped[dict[str, Any]]
    revision: Mapped[int] = mapped_column(BigInteger, default=0)
    created_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    saved_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    deleted_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class ChangeRow(Base):
    """One change as JSON Patch (RFC 6902) both ways.

    ``state`` is ``done``, ``undone`` or ``abandoned`` (undone, then something else was done). ``key`` is the sender's own,
    so that a change sent twice is stored once. ``pick`` is what was picked when it was made; ``window`` made or undid
    it, none once that is closed.
    """

    __tablename__ = "changes"
    __table_args__ = (UniqueConstraint("build_id", "key"), Index("changes_by_build", "build_id", "seq"),
                      Index("changes_by_window", "window"))

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    build_id: Mapped[str] = mapped_column(ForeignKey("builds.id", ondelete="CASCADE"))
    seq: Mapped[int] = mapped_column(BigInteger)
    key: Mapped[str] = mapped_column(String(64))
    label: Mapped[str] = mapped_column(Text)
    group: Mapped[str | None] = mapped_column(Text)
    state: Mapped[str] = mapped_column(String(12), default="done")
    forward: Mapped[list[Any]]
    inverse: Mapped[list[Any]]
    pick: Mapped[dict[str, Any] | None]
    window: Mapped[str | None] = mapped_column(String(64))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class PictureRow(Base):
    """A reference picture, kept as it came."""

    __tablename__ = "pictures"

    sha256: Mapped[str] = mapped_column(String(64), primary_key=True)
    media_type: Mapped[str] = mapped_column(String(40))
    width: Mapped[int]
    height: Mapped[int]
    data: Mapped[bytes] = deferred(mapped_column(LargeBinary))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class ModelFileRow(Base):
    """A model file, kept as it came."""

    __tablename__ = "model_files"

    sha256: Mapped[str] = mapped_column(String(64), primary_key=True)
    format: Mapped[str] = mapped_column(String(10))
    data: Mapped[bytes] = deferred(mapped_column(LargeBinary))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class StockRow(Base):
    """A part or group kept for any build: its recipe document, its picture, its size in metres."""

    __tablename__ = "stock"

    id: Mapped[str] = mapped_column(String(32), primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    tags: Mapped[list[Any]]
    size: Mapped[list[Any]]
    document: Mapped[dict[str, Any]]
    picture: Mapped[bytes] = deferred(mapped_column(LargeBinary))
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class LookRow(Base):
    """What a build looked like at some revision, to know it by in the list."""

    __tablename__ = "looks"

    build_id: Mapped[str] = mapped_column(ForeignKey("builds.id", ondelete="CASCADE"), primary_key=True)
    revision: Mapped[int] = mapped_column(BigInteger)
    size: Mapped[list[Any]]
    fit: Mapped[float | None]
    picture: Mapped[bytes] = mapped_column(LargeBinary)
