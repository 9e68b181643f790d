"""What the club says about itself and its hall: names, the address under which phones reach the server."""

from sorvek.store.settings import save_setting, setting, setting_version

ADDRESS = "public_address"


def public_address() -> str:
    """Return the address card links begin with, empty until a coach gives one."""
    return str(setting(ADDRESS, ""))


def public_address_version() -> int:
    """Return the version of that address."""
    return setting_version(ADDRESS)


def save_public_address(address: str, seen_version: int) -> None:
    """Keep the address; an empty one forgets it.

    Raises: ConflictError if somebody changed it since `seen_version`.
    """
    save_setting(ADDRESS, address, seen_version)


def club_names(club: str, event: str) -> tuple[str, str]:
    """Return the names of the club and of what it takes part in; those given where it has none."""
    return str(setting("club_name", "") or club), str(setting("event_name", "") or event)
