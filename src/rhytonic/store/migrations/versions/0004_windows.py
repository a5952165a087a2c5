"""Who made a change."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    """To this version, from the one before."""
    op.add_column("changes", sa.Column("window", sa.String(64), nullable=True))
    op.create_index("changes_by_window", "changes", ["window"])  # a window that is closed looks for its own


def downgrade() -> None:
    """Back to the one before."""
    op.drop_index("changes_by_window", "changes")
    op.drop_column("changes", "window")
