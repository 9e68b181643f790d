"""Where batches run: processes of this machine, or a cluster; both are executors of the standard library."""

import multiprocessing
import multiprocessing.connection
import os
import signal
import threading
from collections.abc import Callable
from concurrent.futures import Executor, Future, ProcessPoolExecutor
from typing import Any, TypeVar

from sorvek.core.errors import CoreError

# Workers give way to whoever waits for a page as far as the system allows.
BEHIND_PAGES = 19
RETRIES = 3  # of what a lost worker had in hand
T = TypeVar("T")


class ExecutorError(CoreError):
    """An executor that cannot be had; the message says what to do."""


def _begin_worker() -> None:
    """Leave Ctrl-C to the server, and end with it however it ends: nobody would read what comes after."""
    os.nice(BEHIND_PAGES)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    server = multiprocessing.parent_process()

    def watch() -> None:
        multiprocessing.connection.wait([server.sentinel])  # type: ignore[union-attr]
        os._exit(0)

    threading.Thread(target=watch, daemon=True).start()


def local_executor(workers: int = 0) -> Executor:
    """Return so many processes of this machine, as many as it has processors if none are given."""
    # Spawned, not forked: the server runs threads, and a fork would copy their locks.
    context = multiprocessing.get_context("spawn")
    return ProcessPoolExecutor(workers or os.cpu_count() or 1, mp_context=context, initializer=_begin_worker)


class ClusterExecutor(Executor):
    """The executor of a cluster's client, which ends with it."""

    def __init__(self, client: Any) -> None:
        self._client, self._inner = client, client.get_executor(pure=False, retries=RETRIES)

    def submit(self, fn: Callable[..., T], /, *args: Any, **kwargs: Any) -> Future[T]:
        """Return the future of a call that some worker of the cluster makes."""
        future: Future[T] = self._inner.submit(fn, *args, **kwargs)
        return future

    def shutdown(self, wait: bool = True, *, cancel_futures: bool = False) -> None:
        """End the client; what is still running ends with it."""
        self._inner.shutdown(wait=wait and not cancel_futures)
        self._client.close()


def cluster_executor(address: str) -> Executor:
    """Return the executor of the cluster whose scheduler listens at `HOST:PORT`.

    Raises: ExecutorError if the extra is not installed or no scheduler answers.
    """
    try:
        from distributed import Client
    except ImportError as error:
        raise ExecutorError("a cluster needs the extra: pip install sorvek[cluster]") from error
    try:
        client = Client(f"tcp://{address}", timeout="5s", set_as_default=False)  # type: ignore[no-untyped-call]
    except (OSError, TimeoutError, ValueError) as error:
        raise ExecutorError(f"no scheduler answers at {address}; start one, or use local") from error
    return ClusterExecutor(client)


def opener_of(text: str) -> Callable[[], Executor]:
    """Return what opens the executor a command names: `local`, `local:N` processes, or `dask://HOST:PORT`.

    Raises: ExecutorError for any other word.
    """
    kind, _, rest = text.partition(":")
    if kind == "local" and (not rest or rest.isdecimal()):
        return lambda: local_executor(int(rest) if rest else 0)
    if kind != "dask" or not rest.startswith("//") or len(rest) < 3:
        raise ExecutorError("write local, local:4 or dask://HOST:PORT")
    return lambda: cluster_executor(rest[2:])
