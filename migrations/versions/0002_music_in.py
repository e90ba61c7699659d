"""Imports as jobs, kin, marks, surveys, nested maps, own maps of sections, new versions."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None

JOBS = "jobs"
"""Schema of the job queue's own tables, apart from ours."""


def _json(name: str, default: str) -> sa.Column:
    return sa.Column(
        name, postgresql.JSONB(), server_default=sa.text(f"'{default}'"), nullable=False
    )


def _links(table: str, *columns: tuple[str, str]) -> list[sa.ForeignKeyConstraint]:
    return [
        sa.ForeignKeyConstraint(
            [column], [f"{target}.id"], name=op.f(f"fk_{table}_{column}_{target}")
        )
        for column, target in columns
    ]


def upgrade() -> None:
    op.execute("set local lock_timeout = '5s'")
    _pieces()
    _maps()
    _kin_and_marks()
    # The library that filled this schema is not used any more, and 0005 drops it.
    op.execute(f"create schema {JOBS}")


def _pieces() -> None:
    op.add_column(
        "section_member",
        sa.Column("is_leader", sa.Boolean(), server_default=sa.text("false"), nullable=False),
    )
    op.add_column("piece", sa.Column("replaced_by_id", sa.Uuid(), nullable=True))
    op.add_column("piece", _json("report", "[]"))
    op.create_foreign_key(
        op.f("fk_piece_replaced_by_id_piece"), "piece", "piece", ["replaced_by_id"], ["id"]
    )
    op.add_column(
        "part",
        sa.Column("played_on", sa.String(40), server_default=sa.text("''"), nullable=False),
    )
    op.add_column(
        "part",
        sa.Column("is_set_aside", sa.Boolean(), server_default=sa.text("false"), nullable=False),
    )
    op.add_column("part", sa.Column("survey", postgresql.JSONB(), nullable=True))
    op.add_column("part", sa.Column("replaces_id", sa.Uuid(), nullable=True))
    op.add_column("part", _json("carried", "{}"))
    op.create_foreign_key(op.f("fk_part_replaces_id_part"), "part", "part", ["replaces_id"], ["id"])
    op.create_table(
        "import_job",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("person_id", sa.Uuid(), nullable=False),
        sa.Column("file_name", sa.String(200), nullable=False),
        sa.Column("file_key", sa.String(100), nullable=False),
        sa.Column("replaces_id", sa.Uuid(), nullable=True),
        sa.Column("state", sa.String(12), nullable=False),
        sa.Column("stage", sa.String(40), nullable=False),
        sa.Column("done", sa.Integer(), nullable=False),
        sa.Column("total", sa.Integer(), nullable=False),
        sa.Column("message", sa.String(400), nullable=False),
        sa.Column("piece_id", sa.Uuid(), nullable=True),
        sa.Column(
            "made_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint(
            "state in ('waiting', 'working', 'done', 'failed')", name=op.f("ck_import_job_state")
        ),
        *_links(
            "import_job",
            ("program_id", "program"),
            ("person_id", "person"),
            ("replaces_id", "piece"),
            ("piece_id", "piece"),
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_import_job")),
    )
    op.create_index(op.f("ix_import_job_program_id"), "import_job", ["program_id"])
    op.create_table(
        "part_section",
        sa.Column("part_id", sa.Uuid(), nullable=False),
        sa.Column("section_id", sa.Uuid(), nullable=False),
        *_links("part_section", ("part_id", "part"), ("section_id", "section")),
        sa.PrimaryKeyConstraint("part_id", "section_id", name=op.f("pk_part_section")),
    )
    op.create_index(op.f("ix_part_section_section_id"), "part_section", ["section_id"])


def _maps() -> None:
    op.create_table(
        "part_map",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("part_id", sa.Uuid(), nullable=False),
        sa.Column("section_id", sa.Uuid(), nullable=True),
        sa.Column("cursor", sa.Integer(), nullable=False),
        *_links("part_map", ("part_id", "part"), ("section_id", "section")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_part_map")),
        sa.UniqueConstraint("part_id", "section_id", name=op.f("uq_part_map_part_id_section_id")),
    )
    op.create_index(op.f("ix_part_map_part_id"), "part_map", ["part_id"])
    # Everybody's map has the id of its part, so no version needs to change what it points to.
    op.execute(
        "insert into part_map (id, part_id, section_id, cursor) "
        "select id, id, null, map_cursor from part"
    )
    op.drop_column("part", "map_cursor")
    op.drop_constraint("fk_chunk_map_version_part_id_part", "chunk_map_version", type_="foreignkey")
    op.alter_column("chunk_map_version", "part_id", new_column_name="map_id")
    op.create_foreign_key(
        op.f("fk_chunk_map_version_map_id_part_map"),
        "chunk_map_version",
        "part_map",
        ["map_id"],
        ["id"],
    )
    op.add_column("chunk_map_version", sa.Column("edges", postgresql.JSONB(), nullable=True))
    for name in ("quiet", "inner", "by_hand"):
        op.add_column("chunk_map_version", _json(name, "[]"))
    op.add_column(
        "chunk_map_version",
        sa.Column("order_by", sa.String(12), server_default=sa.text("'front'"), nullable=False),
    )


def _kin_and_marks() -> None:
    op.create_table(
        "kin_link",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("piece_id", sa.Uuid(), nullable=False),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.Column("a_part_id", sa.Uuid(), nullable=False),
        sa.Column("a_first", sa.Integer(), nullable=False),
        sa.Column("a_last", sa.Integer(), nullable=False),
        sa.Column("b_part_id", sa.Uuid(), nullable=False),
        sa.Column("b_first", sa.Integer(), nullable=False),
        sa.Column("b_last", sa.Integer(), nullable=False),
        sa.Column("relation", sa.String(16), nullable=False),
        sa.Column("interval", sa.Integer(), nullable=False),
        sa.Column("scale", sa.String(40), nullable=False),
        sa.Column("differs", postgresql.JSONB(), nullable=False),
        sa.Column("verdict", sa.String(12), nullable=True),
        sa.CheckConstraint("verdict in ('confirmed', 'refused')", name=op.f("ck_kin_link_verdict")),
        *_links("kin_link", ("piece_id", "piece"), ("a_part_id", "part"), ("b_part_id", "part")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_kin_link")),
    )
    for column in ("piece_id", "a_part_id", "b_part_id"):
        op.create_index(op.f(f"ix_kin_link_{column}"), "kin_link", [column])
    op.create_table(
        "mark",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("program_id", sa.Uuid(), nullable=False),
        sa.Column("part_id", sa.Uuid(), nullable=False),
        sa.Column("section_id", sa.Uuid(), nullable=True),
        sa.Column("author_id", sa.Uuid(), nullable=False),
        sa.Column("layer", sa.String(10), nullable=False),
        sa.Column("kind", sa.String(20), nullable=False),
        sa.Column("text", sa.String(80), nullable=False),
        sa.Column("index", sa.Integer(), nullable=False),
        sa.Column("at", sa.String(40), nullable=False),
        sa.Column(
            "made_at",
            sa.DateTime(timezone=True),
            server_default=sa.text("now()"),
            nullable=False,
        ),
        sa.Column("removed_at", sa.DateTime(timezone=True), nullable=True),
        sa.CheckConstraint("layer in ('director', 'leader', 'own')", name=op.f("ck_mark_layer")),
        *_links(
            "mark",
            ("program_id", "program"),
            ("part_id", "part"),
            ("section_id", "section"),
            ("author_id", "person"),
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_mark")),
    )
    op.create_index(op.f("ix_mark_part_id"), "mark", ["part_id"])


def downgrade() -> None:
    op.execute(f"drop schema {JOBS} cascade")
    op.drop_table("mark")
    op.drop_table("kin_link")
    op.drop_table("part_section")
    op.drop_table("import_job")
    # A section's own maps are lost; everybody's stay as they are.
    op.execute(
        "delete from chunk_map_version where map_id in "
        "(select id from part_map where section_id is not null)"
    )
    op.add_column("part", sa.Column("map_cursor", sa.Integer(), server_default="0", nullable=False))
    op.alter_column("part", "map_cursor", server_default=None)
    op.execute(
        "update part set map_cursor = part_map.cursor from part_map where part_map.id = part.id"
    )
    for name in ("order_by", "by_hand", "inner", "quiet", "edges"):
        op.drop_column("chunk_map_version", name)
    op.drop_constraint(
        "fk_chunk_map_version_map_id_part_map", "chunk_map_version", type_="foreignkey"
    )
    op.alter_column("chunk_map_version", "map_id", new_column_name="part_id")
    op.create_foreign_key(
        "fk_chunk_map_version_part_id_part", "chunk_map_version", "part", ["part_id"], ["id"]
    )
    op.drop_table("part_map")
    for name in ("carried", "replaces_id", "survey", "is_set_aside", "played_on"):
        op.drop_column("part", name)
    op.drop_column("piece", "report")
    op.drop_column("piece", "replaced_by_id")
    op.drop_column("section_member", "is_leader")
