"""Stock."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSON

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """To this version, from the one before."""
    op.create_table(
        "stock",
        sa.Column("id", sa.String(32), primary_key=True),
        sa.Column("name", sa.Text, nullable=False),
        sa.Column("tags", JSON, nullable=False),
        sa.Column("size", JSON, nullable=False),
        sa.Column("document", JSON, nullable=False),
        sa.Column("picture", sa.LargeBinary, nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False))


def downgrade() -> None:
    """Back to the one before."""
    op.drop_table("stock")
