"""Which passwords are taken."""

from __future__ import annotations

from zxcvbn import zxcvbn

from maple_rook.core.errors import InvalidValue

LEAST, MOST = 12, 200
_LOOKED_AT = 72
_SCORE = 3
"""Of 4: at least 10^8 guesses by lists of common passwords, names, words and patterns."""


def checked(password: str, name: str, shop: str) -> str:
    """The password, unless it is short, holds its owner's name or would soon be guessed.

    Parameters
    ----------
    password : as it was chosen.
    name, shop : of whom it is; what anybody would try first.
    """
    if not LEAST <= len(password) <= MOST:
        raise InvalidValue(
            "password", f"{len(password)} characters", f"{LEAST} to {MOST} characters"
        )
    known = [word for text in (name, shop) for word in (text, *text.split()) if len(word) > 2]
    score = zxcvbn(password[:_LOOKED_AT], user_inputs=known)["score"]
    if name.lower() in password.lower() or score < _SCORE:
        accepted = "one that is on no list and not made of your name: several words, say"
        raise InvalidValue("password", "one that is soon guessed", accepted)
    return password
