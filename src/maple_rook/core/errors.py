"""One short hierarchy of errors whose messages a person can act on."""

from __future__ import annotations

from typing import Any


class MapleRookError(Exception):
    """Base of every error the application raises on purpose; it may come from another process."""

    def __reduce__(self) -> tuple[Any, ...]:
        return _again, (type(self), self.args, self.__dict__)


def _again(kind: type[MapleRookError], args: tuple[Any, ...], known: dict[str, Any]) -> Exception:
    made = kind.__new__(kind)
    made.args = args
    made.__dict__.update(known)
    return made


class InvalidValue(MapleRookError):
    """A value that cannot be accepted, with the field, the value and what would be.

    ``suggestion`` is a value that would be accepted and was likely meant, where there is one.

    >>> raise InvalidValue("hardness", "75 HRC", "20 to 70 HRC")
    Traceback (most recent call last):
    ...
    maple_rook.core.errors.InvalidValue: hardness: 75 HRC is not accepted; accepted: 20 to 70 HRC
    """

    def __init__(
        self, field: str, value: object, accepted: str, *, hint: str = "", suggestion: str = ""
    ) -> None:
        self.field = field
        self.value = _shown(value)
        self.accepted = accepted
        self.hint = hint
        self.suggestion = suggestion
        text = f"{field}: {self.value} is not accepted; accepted: {accepted}"
        super().__init__(f"{text}. {hint}" if hint else text)


class OutOfTable(InvalidValue):
    """A look-up outside the range of a published table; nothing is extrapolated."""


def _shown(value: object) -> str:
    """The value as a message may repeat it: one line, 40 characters at most."""
    text = " ".join(str(value).split()) or "nothing"
    return text if len(text) <= 40 else f"{text[:37]}..."
