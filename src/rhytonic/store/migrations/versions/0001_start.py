"""Builds, changes and pictures."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSON

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    """To this version, from the one before."""
    now = sa.func.now()
    stamp = sa.DateTime(timezone=True)
    op.create_table(
        "builds",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("name", sa.Text, nullable=False),
        sa.Column("document", JSON, nullable=False),
        sa.Column("revision", sa.BigInteger, nullable=False),
        sa.Column("created_at", stamp, server_default=now, nullable=False),
        sa.Column("saved_at", stamp, server_default=now, nullable=False),
        sa.Column("deleted_at", stamp))
    op.create_table(
        "changes",
        sa.Column("id", sa.BigInteger, primary_key=True),
        sa.Column("build_id", sa.String(32), sa.ForeignKey("builds.id", ondelete="CASCADE"), nullable=False),
        sa.Column("seq", sa.BigInteger, nullable=False),
        sa.Column("key", sa.String(64), nullable=False),
        sa.Column("label", sa.Text, nullable=False),
        sa.Column("group", sa.Text),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("forward", JSON, nullable=False),
        sa.Column("inverse", JSON, nullable=False),
        sa.Column("pick", JSON),
        sa.Column("made_at", stamp, server_default=now, nullable=False),
        sa.UniqueConstraint("build_id", "key"))
    op.create_index("changes_by_build", "changes", ["build_id", "seq"])
    op.create_table(
        "pictures",
        sa.Column("sha256", sa.String(64), primary_key=True),
        sa.Column("media_type", sa.String(40), nullable=False),
        sa.Column("width", sa.Integer, nullable=False),
        sa.Column("height", sa.Integer, nullable=False),
        sa.Column("data", sa.LargeBinary, nullable=False),
        sa.Column("made_at", stamp, server_default=now, nullable=False))


def downgrade() -> None:
    """Back to the one before."""
    for table in ("changes", "builds", "pictures"):
        op.drop_table(table)
