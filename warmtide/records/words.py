"""The words that a study is found by: its name, its sources, looks, prompts and notes, in small letters."""

import uuid

from sqlalchemy import text
from sqlalchemy.ext.asyncio import AsyncSession

# One statement, since 5,000 studies are filled by the migration and one by every change.
WORDS_OF_STUDIES = """
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


async def note_words(session: AsyncSession, study_id: uuid.UUID) -> None:
    """Write down anew what a study is found by, in the session's transaction."""
    await session.flush()
    await session.execute(text(f"{WORDS_OF_STUDIES} where study.id = :study"), {"study": study_id})
