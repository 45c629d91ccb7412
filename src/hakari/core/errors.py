"""The one error that core raises for input it cannot use."""

from __future__ import annotations


class InputError(ValueError):
    """Input that cannot be used, told in a person's words.

    Parameters
    ----------
    code:
        A stable, hyphenated name of the fault, for programs.
    message:
        What is wrong, in one sentence.
    remedy:
        What to do about it, in one sentence.
    field:
        The dotted name of the offending input field, when there is one.
    """

    def __init__(self, code: str, message: str, remedy: str, field: str | None = None) -> None:
        super().__init__(message)
        self.code = code
        self.message = message
        self.remedy = remedy
        self.field = field

    def __reduce__(self) -> tuple[type[InputError], tuple[str, str, str, str | None]]:
        # Errors cross from a measuring process to the server's.
        return type(self), (self.code, self.message, self.remedy, self.field)
