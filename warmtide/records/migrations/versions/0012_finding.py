"""studies that are put away, and the words that they are found by"""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

# As `records.words` had it then: a step from one database to the next never changes.
_WORDS = """
update study set found_by = lower(translate(concat_ws(' ', study.name,
    (select string_agg(distinct s.name || ' ' || s.kind, ' ') from source s where s.study_id = study.id),
    (select string_agg(distinct concat_ws(' ', r.body->>'look', r.body->>'second_look', l.title, r.body->>'prompt'), ' ')
       from sweep w join recipe r on r.id = w.recipe_id left join learned_look l on l.name = r.body->>'look'
      where w.study_id = study.id and w.deleted is null),
    (select string_agg(distinct v.value, ' ')
       from sweep w, jsonb_array_elements(w.spans) as span, jsonb_array_elements_text(span->'values') as v(value)
      where w.study_id = study.id and w.deleted is null and span->>'control' in ('look', 'prompt')),
    (select string_agg(distinct m.note, ' ') from mark m where m.study_id = study.id and m.note <> '')
), '-_', '  '))
"""


def upgrade() -> None:
    op.add_column("study", sa.Column("archived", sa.DateTime(timezone=True), nullable=True))
    op.add_column("study", sa.Column("found_by", sa.Text(), nullable=False, server_default=""))
    op.execute(_WORDS)
    op.create_index("ix_sweep_source_id", "sweep", ["source_id"])
    op.create_index("ix_take_finished", "take", ["finished"])


def downgrade() -> None:
    op.drop_index("ix_take_finished", "take")
    op.drop_index("ix_sweep_source_id", "sweep")
    op.drop_column("study", "found_by")
    op.drop_column("study", "archived")
