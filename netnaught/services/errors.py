"""How a use case refuses. The API turns each into one problem document, the command line into one line.

ServiceError
├── NotSignedIn          nobody is signed in, or the session has expired
├── TooManyAttempts      signing in is throttled for a while
├── NotFound             it does not exist, or not in a company of this user
├── Forbidden            the user's role does not allow it
├── BadInput             a value or a file is wrong: where, and what
├── Refused              the rules of the job do not allow it
├── Conflict             somebody decided it meanwhile, or it is no longer as it was
├── BankUnavailable      the bank's service does not answer, or answers with an error
└── ConfirmationNeeded   it can be done, once what is odd about it is confirmed
"""

from __future__ import annotations

from netnaught.core.completion import Blocker
from netnaught.formats import Unreadable


class ServiceError(Exception):
    """A use case that refused. Nothing was changed."""

    def __init__(self, message: str) -> None:
        super().__init__(message)
        self.message = message


class NotSignedIn(ServiceError):
    """Nobody is signed in, or the session has expired."""


class TooManyAttempts(ServiceError):
    """Signing in is throttled. `seconds` until it may be tried again."""

    def __init__(self, message: str, seconds: int) -> None:
        super().__init__(message)
        self.seconds = seconds


class NotFound(ServiceError):
    """It does not exist, or not for this user: the two are not told apart."""


class Forbidden(ServiceError):
    """The user's role does not allow it."""


class BadInput(ServiceError):
    """A value or file that cannot be used. `field` or `file`, `line`, `column`, `value` say where."""

    def __init__(
        self,
        message: str,
        *,
        field: str | None = None,
        file: str | None = None,
        line: int | None = None,
        column: str | int | None = None,
        value: str | None = None,
    ) -> None:
        super().__init__(message)
        self.field, self.file, self.line, self.column, self.value = field, file, line, column, value

    @classmethod
    def of_file(cls, file: str, error: Unreadable) -> BadInput:
        """The refusal of a reader, with the file's name."""
        message = f"{error.sentence(file)}. Nothing was stored."
        return cls(message, file=file, line=error.line, column=error.column, value=error.value)


class Refused(ServiceError):
    """The rules of the job do not allow it. `blockers`: what stands in the way of sealing."""

    def __init__(self, message: str, blockers: tuple[Blocker, ...] = ()) -> None:
        super().__init__(message)
        self.blockers = blockers


class Conflict(ServiceError):
    """Somebody decided it meanwhile, or it is no longer as it was."""


class BankUnavailable(ServiceError):
    """The bank's service did not answer, or answered with an error."""


class ConfirmationNeeded(ServiceError):
    """It can be stored once these are confirmed: (kind, sentence) each."""

    def __init__(self, message: str, notices: tuple[tuple[str, str], ...]) -> None:
        super().__init__(message)
        self.notices = notices
