"""Settings of the club, one JSON value a name."""

import json
from typing import Any

from sorvek.store.tables import SettingRow


def setting(name: str, default: Any) -> Any:
    """Return a setting, the default if it was never made."""
    row = SettingRow.get_or_none(SettingRow.name == name)
    return json.loads(row.value) if row else default


def save_setting(name: str, value: Any) -> None:
    """Keep a setting."""
    SettingRow.insert(name=name, value=json.dumps(value)).on_conflict(
        conflict_target=[SettingRow.name], preserve=[SettingRow.value]
    ).execute()
