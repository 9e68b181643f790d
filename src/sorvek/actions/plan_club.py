"""Planning a whole roster as one job: both cores, progress, cancel, results stored as they come.

Workers are processes of the standard library's pool; they compute and know no database. One thread a job
collects what they return and stores it, so that a reload of the page, or a server killed halfway, loses
nothing that was finished.
"""

import multiprocessing
import multiprocessing.connection
import os
import pickle
import signal
import threading
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import Future, ProcessPoolExecutor, as_completed
from concurrent.futures.process import BrokenProcessPool
from dataclasses import dataclass, field
from functools import lru_cache

from sorvek.actions.warm import warm_up
from sorvek.core.athlete import Athlete, flagged_movements, read_athlete, with_substitutes
from sorvek.core.club import Outlook, plan_outlook
from sorvek.core.errors import CoreError
from sorvek.core.simulation import problem_for
from sorvek.core.workout import Library, Workout, parse_workout


@dataclass(frozen=True, slots=True)
class Task:
    """One athlete to plan, with the versions the result will belong to."""

    athlete_id: int
    athlete_text: str
    athlete_version: int
    substitutes: Mapping[str, str]


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
    futures: list[Future[tuple[int, Outlook | None, str]]] = field(default_factory=list)


def open_flags(workout: Workout, athlete: Athlete, substitutes: Mapping[str, str]) -> tuple[str, ...]:
    """Return the flagged movements of a workout nobody has decided about."""
    return tuple(name for name in flagged_movements(workout, athlete) if name not in substitutes)


@lru_cache(maxsize=4)
def _opened(workout_text: str, library: bytes) -> tuple[Workout, Library]:
    """Return workout and library of a job; a worker opens them once, not for every athlete."""
    movements: Library = pickle.loads(library)
    return parse_workout(workout_text, movements), movements


def compute(task: Task, workout_text: str, library: bytes) -> tuple[int, Outlook | None, str]:
    """Return an athlete's id and outlook, or why there is none. Runs in a worker process."""
    try:
        workout, movements = _opened(workout_text, library)
        athlete = read_athlete(task.athlete_text, movements)
        flagged = open_flags(workout, athlete, task.substitutes)
        if flagged:
            return task.athlete_id, None, f"flagged: {', '.join(flagged)}. Choose a substitute or leave out."
        return task.athlete_id, plan_outlook(problem_for(with_substitutes(workout, task.substitutes), athlete)), ""
    except CoreError as error:
        return task.athlete_id, None, str(error)


def _begin_worker() -> None:
    """Leave Ctrl-C to the server, and end with it however it ends: nobody would read what comes after."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    server = multiprocessing.parent_process()

    def watch() -> None:
        multiprocessing.connection.wait([server.sentinel])  # type: ignore[union-attr]
        os._exit(0)

    threading.Thread(target=watch, daemon=True).start()


class Planner:
    """The club's one pool and its jobs; at most one job a workout runs at a time."""

    def __init__(self, store: Callable[[Job, int, int, Outlook], None]) -> None:
        self._store = store
        self._pool: ProcessPoolExecutor | None = None
        self._jobs: dict[int, Job] = {}
        self._lock = threading.Lock()

    def job(self, workout_id: int) -> Job | None:
        """Return the latest job of a workout."""
        return self._jobs.get(workout_id)

    def _opened_pool(self) -> ProcessPoolExecutor:
        if self._pool is None:
            # Spawned, not forked: the server runs threads, and a fork would copy their locks.
            context = multiprocessing.get_context("spawn")
            workers = os.cpu_count() or 1
            self._pool = ProcessPoolExecutor(workers, mp_context=context, initializer=_begin_worker)
        return self._pool

    def get_ready(self) -> list[Future[None]]:
        """Start the worker processes before anybody waits for them, which takes some seconds; do not wait."""
        with self._lock:
            pool = self._opened_pool()
            return [pool.submit(warm_up) for _ in range(os.cpu_count() or 1)]

    def start(self, workout_id: int, version: int, text: str, tasks: Sequence[Task], library: Library) -> Job:
        """Begin a job, or return the one that is running for this version; a job for an older text is cancelled."""
        with self._lock:
            running = self._jobs.get(workout_id)
            if running and not running.finished:
                if running.workout_version == version and not running.cancelled:
                    return running
                self._cancel(running)
            pool = self._opened_pool()
            job = Job(workout_id, version, len(tasks))
            versions = {task.athlete_id: task.athlete_version for task in tasks}
            packed = pickle.dumps(library)
            job.futures = [pool.submit(compute, task, text, packed) for task in tasks]
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
                if future.cancelled():
                    continue
                athlete_id, outlook, problem = future.result()
                if outlook is None:
                    job.failed[athlete_id] = problem
                else:
                    self._store(job, athlete_id, versions[athlete_id], outlook)
                job.done += 1
        except BrokenProcessPool:
            job.failed[0] = "A worker was ended from outside. What was finished is kept; start again."
            with self._lock:
                self._pool = None
        finally:
            job.finished = True
