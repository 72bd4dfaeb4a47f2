"""Workers that know a database and a bucket by their addresses: nothing is lost and nothing doubled when one of them falls silent, the store
refuses and the database is restarted. (On machines of their own: `python -m bench.hosts`.)"""

import os
import signal
import unittest

from tests.studio import Studio

RECIPE = {"look": "ink-comic", "size": 144, "steps": 8}
SEEDS = list(range(1, 25))


class Hosts(unittest.TestCase):
    def test_nothing_is_lost_whatever_happens_to_the_parts(self) -> None:
        with Studio(late=0.005, refused=0.05) as studio:
            study, source = studio.study(801)
            first, second = studio.worker("first"), studio.worker("second")
            sweep = studio.sweep(source, RECIPE, [{"control": "seed", "values": SEEDS}])
            studio.until_done(study, sweep, 4)
            # One machine falls silent in the middle of a take, as if its line were cut.
            os.killpg(second.pid, signal.SIGSTOP)
            studio.until_done(study, sweep, 12)
            studio.restart_database()
            takes = studio.settled(study, sweep)
            os.killpg(second.pid, signal.SIGCONT)
            self.assertEqual(
                [take["state"] for take in takes], ["done"] * len(SEEDS), [take["fault"] for take in takes]
            )
            self.assertEqual(len({take["id"] for take in takes}), len(SEEDS))
            picture = studio.client.get(f"/takes/{takes[-1]['id']}/image")
            self.assertEqual((picture.status_code, picture.headers["content-type"]), (200, "image/png"))
            page = studio.machines()
            self.assertEqual((page["store"], page["waiting"], page["running"]), ("bucket", {}, 0))
            self.assertLessEqual(studio.renders(), len(SEEDS) + 2, "only what the silent one held is made twice")
            said = studio.client.get("/metrics").text
            self.assertIn("warmtide_takes_running 0.0", said)
            self.assertIsNone(first.poll())
