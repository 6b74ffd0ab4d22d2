"""One error tree.

NineBoltError
├── InputError          what was given cannot be used
│   ├── QuantityError   a number with a unit that is not what the field takes
│   ├── FieldError      a field of a document: wrong type, range, or unknown name
│   └── FormatError     a file or text in a known format that cannot be read
├── NotFoundError       nothing is stored under that name or number
├── ConflictError       the stored thing has moved on since it was read
├── TooLargeError       more bytes than are accepted
├── StoreError          the database refuses or is damaged
└── LinkError           a device does not answer, refuses, or answers what cannot be
"""

from __future__ import annotations


class NineBoltError(Exception):
    """Base of all errors of this program.

    what: one sentence; where: file, line or field; got: what was found; expected: what is
    allowed; todo: what the person can do about it. Empty parts are left out of the message.
    """

    code = "error"

    def __init__(
        self, what: str, *, where: str = "", got: str = "", expected: str = "", todo: str = ""
    ) -> None:
        self.what, self.where = what, where
        self.got, self.expected, self.todo = got, expected, todo
        super().__init__(self.message())

    def message(self) -> str:
        """All parts in one readable line."""
        text = f"{self.where}: {self.what}" if self.where else self.what
        if self.got:
            text += f" Got {self.got}."
        if self.expected:
            text += f" Expected {self.expected}."
        return f"{text} {self.todo}".strip()

    def as_dict(self) -> dict[str, str]:
        """The parts by name, for JSON."""
        return {
            "code": self.code,
            "what": self.what,
            "where": self.where,
            "got": self.got,
            "expected": self.expected,
            "todo": self.todo,
        }


class InputError(NineBoltError):
    """What was given cannot be used."""

    code = "input"


class QuantityError(InputError):
    """A number with a unit that is not what the field takes."""

    code = "quantity"


class FieldError(InputError):
    """A field of a document has the wrong type, range or name."""

    code = "field"


class FormatError(InputError):
    """A file or text in a known format cannot be read."""

    code = "format"


class NotFoundError(NineBoltError):
    """Nothing is stored under that name or number."""

    code = "not_found"


class ConflictError(NineBoltError):
    """The stored thing has moved on since it was read."""

    code = "conflict"


class TooLargeError(InputError):
    """More bytes than are accepted."""

    code = "too_large"


class StoreError(NineBoltError):
    """The database refuses or is damaged."""

    code = "store"


class LinkError(NineBoltError):
    """A device does not answer, refuses, or answers what cannot be. abort: its code in CiA 301, 0 where it sent
    none. silent: nothing came back at all."""

    code = "link"

    def __init__(
        self, what: str, *, where: str = "", got: str = "", expected: str = "", todo: str = "",
        abort: int = 0, silent: bool = False,
    ) -> None:  # fmt: skip
        super().__init__(what, where=where, got=got, expected=expected, todo=todo)
        self.abort, self.silent = abort, silent
