"""Accounts: who may sign in, as what; passwords are kept as Argon2 hashes (argon2-cffi) only."""

import time
from dataclasses import dataclass
from datetime import UTC, datetime
from enum import StrEnum

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from peewee import IntegrityError

from sorvek.store.changes import Changed, note
from sorvek.store.errors import ConflictError, StoreError
from sorvek.store.tables import AccountRow, database

LEAST_PASSWORD, MOST_PASSWORD = 10, 200
_hasher = PasswordHasher()
# Checked where there is no account of a name, so that a wrong name takes as long as a wrong password.
_nobody = _hasher.hash("nobody has this password")


class Role(StrEnum):
    """What an account may do; each may do what the ones after it may."""

    OWNER = "owner"
    COACH = "coach"
    ASSISTANT = "assistant"

    def may(self, needed: "Role") -> bool:
        """Return whether this role is enough where another is needed."""
        order = list(Role)
        return order.index(self) <= order.index(needed)


@dataclass(frozen=True, slots=True)
class Account:
    """Somebody who may sign in; sessions begun before `sessions_from` (epoch, s) are over."""

    id: int
    name: str
    role: Role
    sessions_from: float


def _of(row: AccountRow) -> Account:
    return Account(row.id, row.name, Role(row.role), row.sessions_from)


def all_accounts() -> list[Account]:
    """Return the accounts by name."""
    return [_of(row) for row in AccountRow.select().order_by(AccountRow.name)]


def any_account() -> bool:
    """Return whether anybody may sign in."""
    return bool(AccountRow.select().exists())


def load_account(account_id: int) -> Account | None:
    """Return one account, None if there is none."""
    row = AccountRow.get_or_none(AccountRow.id == account_id)
    return _of(row) if row else None


def _hashed(password: str) -> str:
    if not LEAST_PASSWORD <= len(password) <= MOST_PASSWORD:
        raise StoreError(f"a password has {LEAST_PASSWORD} to {MOST_PASSWORD} characters, such as four plain words")
    return _hasher.hash(password)


def add_account(name: str, role: Role, password: str) -> Account:
    """Store a new account.

    Raises: StoreError for a name or password that cannot be; ConflictError if the name is taken.
    """
    name = " ".join(name.split())
    if not 1 <= len(name) <= 80:
        raise StoreError("an account needs a name of 1 to 80 characters")
    now = datetime.now(UTC).replace(tzinfo=None)
    hashed = _hashed(password)
    try:
        with database.atomic():
            row = AccountRow.create(
                name=name, role=role.value, password=hashed, sessions_from=time.time(), made_at=now
            )
            note(Changed.ACCOUNT, row.id, f"{name} added as {role.value}")
    except IntegrityError as error:
        raise ConflictError(f"the accounts (there is {name} already)") from error
    return _of(row)


def add_first_owner(name: str, password: str) -> Account:
    """Store the first account, an owner.

    Raises: as `add_account`; StoreError if somebody has one by now.
    """
    with database.atomic("IMMEDIATE"):
        if any_account():
            raise StoreError("there is an owner by now; sign in")
        return add_account(name, Role.OWNER, password)


def account_with(name: str, password: str) -> Account | None:
    """Return the account with a name and password, None if there is none; both refusals take as long."""
    row = AccountRow.get_or_none(AccountRow.name == " ".join(name.split()))
    hashed = row.password if row else _nobody
    try:
        _hasher.verify(hashed, password[:MOST_PASSWORD])
    except (VerificationError, InvalidHashError):
        return None
    if row is None:
        return None
    if _hasher.check_needs_rehash(hashed):
        AccountRow.update(password=_hasher.hash(password)).where(AccountRow.id == row.id).execute()
    return _of(row)


def _owners() -> int:
    return int(AccountRow.select().where(AccountRow.role == Role.OWNER.value).count())


def change_account(account_id: int, role: Role | None = None, password: str | None = None) -> None:
    """Give an account another role or password; all its sessions are over.

    Raises: StoreError for a password that cannot be, for the last owner, or an account that is gone.
    """
    with database.atomic("IMMEDIATE"):
        row = AccountRow.get_or_none(AccountRow.id == account_id)
        if row is None:
            raise StoreError("this account is gone")
        if role and role is not Role.OWNER and row.role == Role.OWNER.value and _owners() == 1:
            raise StoreError(f"{row.name} is the only owner; make somebody else one first")
        told = []
        if role and role.value != row.role:
            told.append(f"{row.name} is {role.value} now")
            row.role = role.value
        if password is not None:
            told.append(f"{row.name} has a new password")
            row.password = _hashed(password)
        row.sessions_from = time.time()
        row.save()
        note(Changed.ACCOUNT, account_id, "; ".join(told) or f"{row.name} signed out everywhere")


def remove_account(account_id: int) -> None:
    """Remove an account; its sessions are over.

    Raises: StoreError for the last owner.
    """
    with database.atomic("IMMEDIATE"):
        row = AccountRow.get_or_none(AccountRow.id == account_id)
        if row is None:
            return
        if row.role == Role.OWNER.value and _owners() == 1:
            raise StoreError(f"{row.name} is the only owner; make somebody else one first")
        row.delete_instance()
        note(Changed.ACCOUNT, account_id, f"{row.name} removed")
