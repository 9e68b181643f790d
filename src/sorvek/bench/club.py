"""How long a whole club waits: 200 athletes planned as one job by the application's own batch."""

import datetime
import json
import time
from dataclasses import replace

from sorvek.actions.plan_club import Job, Planner, Task
from sorvek.core.athlete.file import athlete_data
from sorvek.core.club.outlook import Outlook
from sorvek.core.workout.movements import shipped_library
from sorvek.demo.club import club

ATHLETES = 200
# Nobody flagged: whoever is held costs nothing.
TODAY = datetime.date(2026, 1, 1)
LONGEST_S = 300.0


def club_tasks(count: int = ATHLETES) -> list[Task]:
    """Return the demo club again and again until there are `count` athletes, without injury flags."""
    people = [replace(athlete, flags={}) for athlete in club(TODAY)]
    return [Task(i, json.dumps(athlete_data(people[i % len(people)])), 1, {}) for i in range(count)]


def seconds_for_club(text: str, count: int = ATHLETES) -> float:
    """Return the seconds from the click to the last plan handed back, worker processes ready as in the server.

    Raises: RuntimeError if an athlete could not be planned.
    """
    stored: list[int] = []

    def store(_job: Job, athlete_id: int, _version: int, _outlook: Outlook) -> bool:
        stored.append(athlete_id)
        return True

    planner, tasks = Planner(store), club_tasks(count)
    for ready in planner.get_ready():
        ready.result()
    begun = time.perf_counter()
    job = planner.start(1, 1, text, tasks, shipped_library())
    while not job.finished and time.perf_counter() - begun < LONGEST_S:
        time.sleep(0.01)
    seconds = time.perf_counter() - begun
    planner.close()
    if len(stored) != count:
        raise RuntimeError(f"{len(stored)} of {count} planned; {job.failed}")
    return seconds
