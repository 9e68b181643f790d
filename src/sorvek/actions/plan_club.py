"""Planning a whole roster as one job: both cores, progress, cancel, results stored as they come.

Workers belong to an executor of the standard library; they compute and know no database. One thread a job
collects what they return and stores it, so that a reload of the page, or a server killed halfway, loses
nothing that was finished.
"""

import logging
import os
import pickle
import threading
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import Executor, Future, as_completed
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field
from functools import lru_cache
from typing import TypeVar

from sorvek.actions.executors import local_executor
from sorvek.actions.warm import warm_up
from sorvek.core.athlete import flagged_movements, read_athlete, with_substitutes
from sorvek.core.club import Outlook, plan_outlook
from sorvek.core.errors import CoreError
from sorvek.core.simulation import problem_for
from sorvek.core.workout import Library, Workout, read_workout

log = logging.getLogger(__name__)
Submitted = TypeVar("Submitted")


@dataclass(frozen=True, slots=True)
class Task:
    """One athlete to plan, with the versions the result will belong to."""

    athlete_id: int
    athlete_text: str
    athlete_version: int
    substitutes: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class Computed:
    """What a worker returns: an outlook, or why there is none."""

    athlete_id: int
    outlook: Outlook | None
    problem: str = ""


@dataclass(slots=True)
class Job:
    """A batch in progress. `failed` says by athlete id why there is no plan."""

    workout_id: int
    workout_version: int
    total: int
    done: int = 0
    cancelled: bool = False
    finished: bool = False
    failed: dict[int, str] = field(default_factory=dict)
    futures: list[Future[Computed]] = field(default_factory=list)


@lru_cache(maxsize=4)
def _opened(workout_text: str, library: bytes) -> tuple[Workout, Library]:
    """Return workout and library of a job; a worker opens them once, not for every athlete."""
    movements: Library = pickle.loads(library)
    return read_workout(workout_text, movements).workout, movements


def compute(task: Task, workout_text: str, library: bytes) -> Computed:
    """Return an athlete's outlook, or why there is none. Runs in a worker process."""
    try:
        workout, movements = _opened(workout_text, library)
        athlete = read_athlete(task.athlete_text, movements)
        flagged = [name for name in flagged_movements(workout, athlete) if name not in task.substitutes]
        if flagged:
            return Computed(
                task.athlete_id, None, f"flagged: {', '.join(flagged)}. Choose a substitute or leave out."
            )
        return Computed(
            task.athlete_id, plan_outlook(problem_for(with_substitutes(workout, task.substitutes), athlete))
        )
    except CoreError as error:
        return Computed(task.athlete_id, None, str(error))


class Planner:
    """The club's one executor and its jobs; at most one job a workout runs at a time.

    `store` keeps what was computed and returns whether there still was somebody to keep it for; `opened` gives an
    executor when one is needed.
    """

    def __init__(
        self, store: Callable[[Job, int, int, Outlook], bool], opened: Callable[[], Executor] = local_executor
    ) -> None:
        self._store, self._opened = store, opened
        self._pool: Executor | None = None
        self._jobs: dict[int, Job] = {}
        self._lock = threading.Lock()

    def job(self, workout_id: int) -> Job | None:
        """Return the latest job of a workout."""
        return self._jobs.get(workout_id)

    def _opened_pool(self) -> Executor:
        self._pool = self._pool or self._opened()
        return self._pool

    def _submitted(self, submit: Callable[[Executor], list[Submitted]]) -> list[Submitted]:
        """Return what was handed to the pool; one whose worker died while it was idle is replaced first."""
        try:
            return submit(self._opened_pool())
        except BrokenProcessPool:
            log.warning("a worker died while it was idle: the pool is rebuilt")
            self._pool = None
            return submit(self._opened_pool())

    def get_ready(self) -> list[Future[None]]:
        """Start the worker processes before anybody waits for them, which takes some seconds; do not wait."""
        with self._lock:
            return self._submitted(lambda pool: [pool.submit(warm_up) for _ in range(os.cpu_count() or 1)])

    def start(self, workout_id: int, version: int, text: str, tasks: Sequence[Task], library: Library) -> Job:
        """Begin a job, or return the one that is running for this version; a job for an older text is cancelled."""
        with self._lock:
            running = self._jobs.get(workout_id)
            if running and not running.finished:
                if running.workout_version == version and not running.cancelled:
                    return running
                self._cancel(running)
            job = Job(workout_id, version, len(tasks))
            versions = {task.athlete_id: task.athlete_version for task in tasks}
            packed = pickle.dumps(library)
            job.futures = self._submitted(lambda pool: [pool.submit(compute, task, text, packed) for task in tasks])
            self._jobs[workout_id] = job
        threading.Thread(target=self._collect, args=(job, versions), daemon=True).start()
        return job

    def cancel(self, workout_id: int) -> None:
        """Stop a job; what is finished stays."""
        with self._lock:
            job = self._jobs.get(workout_id)
            if job:
                self._cancel(job)

    def close(self) -> None:
        """End the worker processes."""
        with self._lock:
            for job in self._jobs.values():
                self._cancel(job)
            if self._pool:
                self._pool.shutdown(wait=True, cancel_futures=True)
                self._pool = None

    def _cancel(self, job: Job) -> None:
        job.cancelled = not job.finished
        for future in job.futures:
            future.cancel()

    def _collect(self, job: Job, versions: Mapping[int, int]) -> None:
        try:
            for future in as_completed(job.futures):
                if not future.cancelled():
                    self._keep(job, versions, future)
                    job.done += 1
        except BrokenProcessPool:
            job.failed[0] = "A worker was ended from outside. What was finished is kept; start again."
            with self._lock:
                self._pool = None
        except Exception as error:  # whatever a cluster's client raises when its scheduler is gone for good
            log.exception("the executor gave up on workout %s", job.workout_id)
            job.failed[0] = (
                f"The executor gave up ({type(error).__name__}). What was finished is kept; start again."
            )
            with self._lock:
                self._pool = None
        finally:
            job.finished = True

    def _keep(self, job: Job, versions: Mapping[int, int], future: Future[Computed]) -> None:
        """Store one result; a row that cannot be stored is told and does not end the job."""
        computed = future.result()
        if computed.outlook is None:
            job.failed[computed.athlete_id] = computed.problem
            return
        try:
            self._store(job, computed.athlete_id, versions[computed.athlete_id], computed.outlook)
        except Exception:  # a full disk, a locked file: the other plans are still worth having
            log.exception(
                "the plan of athlete %s on workout %s was not stored", computed.athlete_id, job.workout_id
            )
            job.failed[computed.athlete_id] = "The plan could not be stored; see the log, then plan again."
