"""Commands that serve the pages, and those that copy the database and put a copy back."""

import logging
import secrets
import threading
from datetime import datetime
from pathlib import Path
from typing import Any

import click
from waitress import create_server

from sorvek.cli.options import DATA, FILE, refuse
from sorvek.core.errors import CoreError
from sorvek.store.accounts import any_account
from sorvek.store.backup import back_up, daily, preview_restore, restore
from sorvek.store.database import connection
from sorvek.store.errors import StoreError
from sorvek.store.lock import alone_on
from sorvek.web import create_app

log = logging.getLogger("sorvek")
LOG_LINE = "%(asctime)s %(levelname)s %(name)s %(message)s"
BETWEEN_BACKUPS_S = 3600.0
# Who sends a byte a second holds a connection, not a thread; there are plenty, and idle ones are closed.
SERVER: dict[str, Any] = {
    "threads": 4,
    "ident": None,
    "connection_limit": 1000,
    "channel_timeout": 60,
    "asyncore_use_poll": True,
    "max_request_body_size": 60_000_000,
}

HOST = click.option("--host", default="127.0.0.1", show_default=True, help="Address to listen on.")
PORT = click.option("--port", default=8173, show_default=True, help="Port; 0 takes any free one.")
PROXY = click.option(
    "--behind-proxy", is_flag=True, help="One reverse proxy with TLS stands before it (docs/operations.md)."
)
VERBOSE = click.option("--log", "verbose", is_flag=True, help="A line for every request, not only for what fails.")
EXECUTOR = click.option(
    "--executor", default="local", show_default=True, help="Who plans: local, local:N, or dask://HOST:PORT."
)
DEMO = click.option("--demo", "of_demo", is_flag=True, help="The demo club's database instead of your own.")


def _database(data: Path, demo: bool) -> Path:
    return data / ("demo.db" if demo else "sorvek.db")


def _somebody() -> bool:
    with connection():
        return any_account()


def _back_up_daily(database: Path, stop: threading.Event) -> None:
    """Keep one backup a day while the server runs; one that fails is told in the log and tried again."""
    while True:
        try:
            made = daily(database, datetime.now())
            if made:
                log.info("backup written to %s", made)
        except (StoreError, OSError):
            log.exception("the daily backup could not be written")
        if stop.wait(BETWEEN_BACKUPS_S):
            return


def _serve(data: Path, host: str, port: int, demo: bool, behind_proxy: bool, executor: str, verbose: bool) -> None:
    if ":" in host:
        raise click.BadParameter("give an IPv4 address or a name, such as 127.0.0.1", param_hint="--host")
    logging.basicConfig(format=LOG_LINE, level=logging.INFO if verbose else logging.WARNING)
    database = _database(data, demo)
    try:
        with alone_on(database):
            app = create_app(
                database, demo=demo, host=host, port=port, behind_proxy=behind_proxy, executor=executor
            )
            try:
                server = create_server(app, host=host, port=port, **SERVER)
            except OSError as error:
                reason = (
                    f"{host} port {port} cannot be used ({error.strerror}); choose another with --port or --host"
                )
                raise StoreError(reason) from error
            address = f"http://{host}:{server.effective_port}"
            app.config["OWN_ADDRESS"] = address
            app.extensions["planner"].get_ready()
            stop = threading.Event()
            threading.Thread(target=_back_up_daily, args=(database, stop), daemon=True).start()
            click.echo(f"Sorvek is at {address}/  (stop with Ctrl-C)")
            if app.config["BEYOND_LOOPBACK"] and not _somebody():
                app.config["FIRST_CODE"] = secrets.token_hex(4)
                click.echo(
                    "Nobody may sign in yet: open it and make the owner's account with the code"
                    f" {app.config['FIRST_CODE']}, or run “sorvek user add NAME --role owner”."
                )
            try:
                server.run()
            finally:
                stop.set()
    except (CoreError, StoreError) as error:
        refuse(error)


@click.command()
@DATA
@HOST
@PORT
@PROXY
@EXECUTOR
@VERBOSE
def demo(data: Path, host: str, port: int, behind_proxy: bool, executor: str, verbose: bool) -> None:
    """Start with the demo club."""
    _serve(data, host, port, True, behind_proxy, executor, verbose)


@click.command()
@DATA
@HOST
@PORT
@PROXY
@EXECUTOR
@VERBOSE
def serve(data: Path, host: str, port: int, behind_proxy: bool, executor: str, verbose: bool) -> None:
    """Start with your own data; beyond this computer people sign in."""
    _serve(data, host, port, False, behind_proxy, executor, verbose)


@click.command()
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
@DATA
@DEMO
def backup(file: Path, data: Path, of_demo: bool) -> None:
    """Copy the database to FILE, also while the server runs; the copy is checked."""
    try:
        rows = back_up(_database(data, of_demo), file)
    except StoreError as error:
        refuse(error)
    click.echo(f"{file}: {rows} rows, checked")


@click.command("restore")
@click.argument("file", type=FILE)
@click.option("--preview", is_flag=True, help="Show what would change, and change nothing.")
@DATA
@DEMO
def put_back(file: Path, preview: bool, data: Path, of_demo: bool) -> None:
    """Put a backup in place of the database; what it replaces is kept beside it. Stop the server first."""
    database = _database(data, of_demo)
    try:
        if preview:
            click.echo(f"{'table':<14}{'in it':>8}{'now':>8}")
            for name, held, now in preview_restore(file, database):
                click.echo(f"{name:<14}{held:>8}{now:>8}{'  ←' if held != now else ''}")
            return
        with alone_on(database):
            kept = restore(file, database, datetime.now())
    except StoreError as error:
        refuse(error)
    click.echo(f"{database} is now {file}" + (f"; what it was is kept as {kept}" if kept else ""))


@click.command()
@click.option("--quick", is_flag=True, help="Fewer repetitions.")
@click.option("--out", type=click.Path(path_type=Path), default=Path("bench.json"), show_default=True)
def bench(quick: bool, out: Path) -> None:
    """Measure the figures of docs/performance.md on this machine."""
    from sorvek.bench import run

    click.echo(run(quick=quick, out=out))
