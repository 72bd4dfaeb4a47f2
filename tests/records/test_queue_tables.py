"""The queue library's tables are as the adapter relies on, and nothing else reaches into them."""

import unittest
from pathlib import Path

import psycopg
from procrastinate.jobs import Status

from tests.stack import ROOT, database_address
from warmtide.records.queue_tables import RELIED_ON, STATES


class Tables(unittest.TestCase):
    def test_they_have_the_columns_relied_on(self) -> None:
        with psycopg.connect(database_address()) as connection:
            for table, columns in RELIED_ON.items():
                rows = connection.execute(
                    "select column_name, case data_type when 'USER-DEFINED' then udt_name else data_type end"
                    " from information_schema.columns where table_name = %s",
                    (table,),
                ).fetchall()
                self.assertEqual({name: kind for name, kind in rows if name in columns}, columns)

    def test_a_job_has_the_states_relied_on(self) -> None:
        with psycopg.connect(database_address()) as connection:
            rows = connection.execute("select unnest(enum_range(null::procrastinate_job_status))::text").fetchall()
        self.assertEqual({state for (state,) in rows}, set(STATES))
        self.assertEqual({status.value for status in Status}, set(STATES))

    def test_workers_listen_where_they_are_woken(self) -> None:
        with psycopg.connect(database_address()) as connection:
            connection.execute('listen "procrastinate_queue_v1#probe"')
            connection.commit()
            connection.execute(
                "select procrastinate_defer_jobs_v1(array[row('probe', 'nothing', 0, null, null, '{}', null)]"
                "::procrastinate_job_to_defer_v1[])"
            )
            connection.commit()
            (told,) = connection.notifies(timeout=5, stop_after=1)
            connection.execute("delete from procrastinate_jobs where queue_name = 'probe'")
        self.assertIn('"job_inserted"', told.payload)

    def test_nothing_else_names_them(self) -> None:
        for path in (ROOT / "warmtide").rglob("*.py"):
            if "migrations" not in path.parts and path.name != "queue_tables.py":
                for table in (*RELIED_ON, "procrastinate_queue"):
                    self.assertNotIn(table, path.read_text(), Path(path).relative_to(ROOT))
