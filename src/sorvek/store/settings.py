"""Settings of the club, one JSON value a name."""

import json
from typing import Any

from sorvek.store.changes import Changed, note
from sorvek.store.errors import ConflictError
from sorvek.store.tables import SettingRow, database


def setting(name: str, default: Any) -> Any:
    """Return a setting, the default if it was never made."""
    row = SettingRow.get_or_none(SettingRow.name == name)
    return json.loads(row.value) if row else default


def settings_like(beginning: str) -> dict[str, Any]:
    """Return the settings whose names begin so, by name."""
    rows = SettingRow.select().where(SettingRow.name.startswith(beginning))
    return {row.name: json.loads(row.value) for row in rows}


def setting_version(name: str) -> int:
    """Return the version of a setting, 0 if it was never made."""
    row = SettingRow.get_or_none(SettingRow.name == name)
    return int(row.version) if row else 0


def save_setting(name: str, value: Any, seen_version: int) -> None:
    """Keep a setting.

    Raises: ConflictError if somebody changed it since `seen_version`.
    """
    with database.atomic("IMMEDIATE"):
        version = setting_version(name)
        if version != seen_version:
            raise ConflictError("this setting")
        row = SettingRow.insert(name=name, value=json.dumps(value), version=version + 1)
        row.on_conflict_replace().execute()
        note(Changed.CLUB, 0, f"{name.replace('_', ' ')} changed")
