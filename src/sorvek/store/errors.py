"""What the store can refuse."""


class StoreError(Exception):
    """The data cannot be opened, copied or put back; the message says what and what to do."""


class ConflictError(Exception):
    """Somebody saved something else since the version this change was made for; nothing was changed.

    `what` names it, such as “the plan of Mira Sol”.
    """

    def __init__(self, what: str) -> None:
        self.what = what
        super().__init__(f"Somebody changed {what} meanwhile. Look at it again, then decide.")
