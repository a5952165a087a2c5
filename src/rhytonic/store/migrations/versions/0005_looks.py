"""What builds look like, for the list of them."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """To this version, from the one before."""
    op.create_table(
        "looks",
        sa.Column("build_id", sa.String(32), sa.ForeignKey("builds.id", ondelete="CASCADE"), primary_key=True),
        sa.Column("revision", sa.BigInteger, nullable=False),
        sa.Column("size", sa.JSON, nullable=False),
        sa.Column("fit", sa.Float, nullable=True),
        sa.Column("picture", sa.LargeBinary, nullable=False))


def downgrade() -> None:
    """Back to the one before."""
    op.drop_table("looks")
