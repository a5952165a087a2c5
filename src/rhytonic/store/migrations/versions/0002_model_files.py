"""Model files."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """To this version, from the one before."""
    op.create_table(
        "model_files",
        sa.Column("sha256", sa.String(64), primary_key=True),
        sa.Column("format", sa.String(10), nullable=False),
        sa.Column("data", sa.LargeBinary, nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.func.now(), nullable=False))


def downgrade() -> None:
    """Back to the one before."""
    op.drop_table("model_files")
