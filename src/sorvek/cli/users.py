"""Commands for accounts: who may sign in, for whoever has the shell."""

from pathlib import Path

import click

from sorvek.cli.options import DATA, refuse
from sorvek.store.accounts import Role, add_account, all_accounts, change_account, remove_account
from sorvek.store.changes import acting
from sorvek.store.database import connection, open_database
from sorvek.store.errors import ConflictError, StoreError

DEMO = click.option("--demo", "of_demo", is_flag=True, help="The demo club's accounts instead of your own.")
NAME = click.argument("name")
PASSWORD = click.option(
    "--password", prompt=True, hide_input=True, confirmation_prompt=True, help="Asked for if it is not given."
)
SHELL = "the shell"


def _opened(data: Path, of_demo: bool) -> None:
    open_database(data / ("demo.db" if of_demo else "sorvek.db"))


def _number(name: str) -> int:
    found = next((one.id for one in all_accounts() if one.name == name), None)
    if found is None:
        raise StoreError(f"there is no account called {name}; “sorvek user list” names all")
    return found


@click.group()
def user() -> None:
    """Who may sign in, and as what."""


@user.command("add")
@NAME
@click.option("--role", type=click.Choice([role.value for role in Role]), default="coach", show_default=True)
@PASSWORD
@DATA
@DEMO
def add(name: str, role: str, password: str, data: Path, of_demo: bool) -> None:
    """Add an account."""
    try:
        _opened(data, of_demo)
        with connection(), acting(SHELL):
            made = add_account(name, Role(role), password)
    except (StoreError, ConflictError) as error:
        refuse(error)
    click.echo(f"{made.name} may sign in as {made.role.value}")


@user.command("list")
@DATA
@DEMO
def show(data: Path, of_demo: bool) -> None:
    """List the accounts."""
    try:
        _opened(data, of_demo)
        with connection():
            for one in all_accounts():
                click.echo(f"{one.role.value:<10} {one.name}")
    except StoreError as error:
        refuse(error)


@user.command("password")
@NAME
@PASSWORD
@DATA
@DEMO
def password(name: str, password: str, data: Path, of_demo: bool) -> None:
    """Give an account another password; its sessions are over."""
    try:
        _opened(data, of_demo)
        with connection(), acting(SHELL):
            change_account(_number(name), password=password)
    except StoreError as error:
        refuse(error)
    click.echo(f"{name} has a new password and is signed out everywhere")


@user.command("remove")
@NAME
@DATA
@DEMO
def remove(name: str, data: Path, of_demo: bool) -> None:
    """Remove an account; its sessions are over."""
    try:
        _opened(data, of_demo)
        with connection(), acting(SHELL):
            remove_account(_number(name))
    except StoreError as error:
        refuse(error)
    click.echo(f"{name} may not sign in any more")
