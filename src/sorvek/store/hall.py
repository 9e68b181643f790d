"""What the club says about its hall: the address under which phones reach the server."""

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
