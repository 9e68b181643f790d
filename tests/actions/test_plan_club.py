"""The batch: results arrive one by one, a cancel keeps what is finished, a flag is no plan."""

import os
import signal
import subprocess
import sys
import threading

import pytest

from sorvek.actions.executors import ExecutorError, opener_of
from sorvek.actions.plan_club import Planner, Task
from sorvek.core.athlete.athlete import Athlete
from sorvek.core.athlete.file import athlete_data
from sorvek.core.workout.movements import shipped_library

TEXT = "for time, cap 5:00\n2 rounds:\n  10 burpees\n  10 pull-ups"


def task(number, **fields):
    import json

    athlete = Athlete(f"A{number}", "building", **fields)
    return Task(number, json.dumps(athlete_data(athlete)), 1, {})


@pytest.fixture(scope="module")
def pool():
    """One pool for all: its workers take seconds to start."""
    kept = []
    let_through = threading.Event()
    let_through.set()

    def store(_job, athlete_id, _version, outlook):
        let_through.wait()
        kept.append((athlete_id, outlook.planned))
        return True

    planner = Planner(store)
    yield planner, kept, let_through
    planner.close()


@pytest.fixture
def planner(pool):
    return pool[0]


@pytest.fixture
def let_through(pool):
    """Cleared, it holds every result before the store, so that its job is surely still running."""
    yield pool[2]
    pool[2].set()


@pytest.fixture
def stored(pool):
    pool[1].clear()
    return pool[1]


def finish(job):
    done = threading.Event()
    while not job.finished:
        done.wait(0.02)


def test_everybody_is_planned_once_and_a_flagged_athlete_is_named(planner, stored, let_through):
    tasks = [task(1), task(2), task(3, flags={"pull-up": "elbow"})]
    job = planner.start(7, 1, TEXT, tasks, shipped_library())
    assert planner.start(7, 1, TEXT, tasks, shipped_library()) is job  # a second click starts nothing
    finish(job)
    assert sorted(i for i, _ in stored) == [1, 2]
    assert "flagged: pull-up" in job.failed[3]
    assert (job.done, job.total, job.cancelled) == (3, 3, False)
    let_through.clear()
    changed = planner.start(7, 2, TEXT, [task(1)], shipped_library())
    planner.cancel(7)
    let_through.set()
    finish(changed)
    assert changed.cancelled
    assert changed.done <= 1


def test_a_text_that_does_not_parse_fails_for_everybody_and_stores_nothing(planner, stored):
    job = planner.start(1, 1, "amrap 5:00\n10 wiggles", [task(1), task(2)], shipped_library())
    finish(job)
    assert stored == []
    assert all("wiggle" in problem for problem in job.failed.values())


def test_a_worker_that_dies_while_nobody_plans_is_replaced(planner, stored):
    ready = planner.get_ready()
    for future in ready:
        future.result()
    os.kill(next(iter(planner._pool._processes)), signal.SIGKILL)
    tick = threading.Event()
    while not planner._pool._broken:
        tick.wait(0.02)
    finish(planner.start(1, 1, TEXT, [task(1)], shipped_library()))
    assert [athlete_id for athlete_id, _ in stored] == [1]


def test_a_row_that_cannot_be_stored_is_told_and_ends_nothing(planner, caplog, monkeypatch):
    stored = []

    def store(_job, athlete_id, _version, _outlook):
        if athlete_id == 2:
            raise OSError("no space left")
        stored.append(athlete_id)
        return True

    monkeypatch.setattr(planner, "_store", store)
    job = planner.start(9, 1, TEXT, [task(n) for n in (1, 2, 3)], shipped_library())
    finish(job)
    assert sorted(stored) == [1, 3]
    assert list(job.failed) == [2]
    assert (job.done, job.finished) == (3, True)
    assert "athlete 2 on workout 9 was not stored" in caplog.text


KILLED = """
import os, signal
from sorvek.actions.plan_club import Planner
if __name__ == "__main__":
    for ready in Planner(lambda *_: None).get_ready():
        ready.result()
    print("ready", flush=True)
    os.kill(os.getpid(), signal.SIGKILL)
"""


def test_workers_are_ready_early_and_end_with_a_server_that_is_killed(tmp_path):
    script = tmp_path / "server.py"
    script.write_text(KILLED, encoding="utf-8")
    # Workers hold the same output: it ends only when the last of them has.
    done = subprocess.run([sys.executable, script], capture_output=True, text=True, timeout=120, check=False)
    assert done.returncode == -signal.SIGKILL
    assert done.stdout == "ready\n"


def test_a_cluster_plans_the_club_with_the_same_digits_and_a_lost_one_is_told(planner, stored, local_cluster):
    tasks = [task(1), task(2)]
    finish(planner.start(21, 1, TEXT, tasks, shipped_library()))
    with local_cluster(1) as cluster:
        address = cluster.scheduler_address.removeprefix("tcp://")
        far = Planner(planner._store, opener_of(f"dask://{address}"))
        job = far.start(22, 1, TEXT, tasks, shipped_library())
        finish(job)
        assert job.failed == {}
        assert sorted(stored[:2]) == sorted(stored[2:])
        far.close()
    with pytest.raises(ExecutorError, match=f"no scheduler answers at {address}"):
        Planner(planner._store, opener_of(f"dask://{address}")).start(23, 1, TEXT, tasks, shipped_library())
