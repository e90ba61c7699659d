"""A take was recorded at a moment that can be told, and none waits without a job."""

from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None

_NO_TAKE = "Crumb could not make this recording playable. Please record it again."


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    op.execute(
        "update take set recorded_at = handed_in_at"
        " where recorded_at not between '1970-01-01' and '2199-12-31'"
    )
    op.create_check_constraint(
        "recorded_at", "take", "recorded_at between '1969-12-31' and '2200-01-02'"
    )
    op.execute(
        f"update take set state = 'failed', message = '{_NO_TAKE}' where state = 'waiting'"
        " and not exists (select from job where job.take_id = take.id"
        " and job.state in ('waiting', 'working'))"
    )


def downgrade() -> None:
    op.drop_constraint("recorded_at", "take", type_="check")
