"""PINs and passphrases: which are too easy, how they are kept, and how wrong ones slow down."""

from __future__ import annotations

import os
from datetime import datetime, timedelta
from hashlib import sha256
from itertools import pairwise
from threading import Lock

from cryptography.exceptions import InvalidKey
from cryptography.hazmat.primitives.kdf.argon2 import Argon2id

from kiteloom.core.base.problems import Refused
from kiteloom.store.models import CrewMember, Secret
from kiteloom.store.unit_of_work import Store

#: A PIN has so many figures; a passphrase has at least so many letters, and neither has more than the last.
PIN, PASSPHRASE, LONGEST = (4, 12), 8, 200
#: So many wrong ones cost nothing; each that follows doubles the wait, from the first to the last [s].
FREE_TRIES, FIRST_WAIT_S, LAST_WAIT_S = 5, 30, 900
#: What a hash costs: RFC 9106 asks for as much memory as can be spared; a small shop computer spares 32 MB.
_TURNS, _LANES, _KIB = 3, 2, 32 * 1024
# One is made or compared at a time: nobody tries eight at once, and the memory of one is enough.
_one_at_a_time = Lock()


class NotLetIn(Exception):
    """That a PIN, passphrase or link did not let anybody in, and how long to wait [s]; 0 for not at all."""

    def __init__(self, sentence: str, wait_s: int = 0) -> None:
        super().__init__(sentence)
        self.wait_s = wait_s


def proven(store: Store, person_id: str, secret: str, now: datetime) -> str:
    """The role of somebody whose PIN or passphrase is right; `NotLetIn` where it is not."""
    with _one_at_a_time:
        with store.reading() as uow:
            person, row = uow.session.get(CrewMember, person_id), uow.session.get(Secret, person_id)
            if person is None or person.hidden_at is not None or row is None:
                raise NotLetIn("Nobody of that name has a PIN here.")
            name, known, role = person.name, row.hashed, person.role
            _not_yet(row, name, now)
        right = _is(secret, known)
        with store.writing() as uow:
            row = uow.get(Secret, person_id)
            row.wrong, row.wrong_at = (0, None) if right else (row.wrong + 1, now)
            wrong = row.wrong
    if right:
        return role
    left, wait = FREE_TRIES - wrong, _wait_s(wrong)
    more = f"{left} more can be tried" if left > 0 else f"the next can be tried in {_in_words(wait)}"
    raise NotLetIn(f"That is not {name}’s PIN or passphrase; {more}.", wait)


def _not_yet(row: Secret, name: str, now: datetime) -> None:
    """Refuse to compare anything while somebody has to wait."""
    if row.wrong_at is None:
        return
    wait = timedelta(seconds=_wait_s(row.wrong))
    # A clock that was set back makes nobody wait longer.
    left = min(wait, row.wrong_at + wait - now).total_seconds()
    if left > 0:
        words = _in_words(left)
        raise NotLetIn(
            f"{row.wrong} wrong ones were tried for {name}; the next can be tried in {words}. A lead can give a new "
            "PIN.",
            int(left) + 1,
        )


def _wait_s(wrong: int) -> int:
    return 0 if wrong < FREE_TRIES else min(FIRST_WAIT_S * 2 ** min(wrong - FREE_TRIES, 10), LAST_WAIT_S)


def _in_words(seconds: float) -> str:
    return f"{seconds:.0f} s" if seconds < 100 else f"{seconds / 60:.0f} min"


def not_easy(secret: str) -> None:
    """Refuse a PIN or passphrase that is soon found; what it is is not repeated."""
    if len(secret) > LONGEST:
        raise Refused("secret", f"it has {len(secret)} letters; at most {LONGEST} are kept")
    if not secret.isascii() or not secret.isdigit() or len(secret) > PIN[1]:
        if len(secret.strip()) < PASSPHRASE:
            raise Refused(
                "secret",
                f"it has {len(secret.strip())} letters; a PIN has {PIN[0]} to {PIN[1]} figures, a passphrase at least "
                f"{PASSPHRASE} letters",
            )
        return
    if len(secret) < PIN[0]:
        raise Refused("secret", f"it has {len(secret)} figures; a PIN has {PIN[0]} to {PIN[1]}")
    steps = {int(b) - int(a) for a, b in pairwise(secret)}
    if len(steps) == 1 and steps <= {-1, 0, 1}:
        raise Refused("secret", "its figures are all the same or in a row; choose one that nobody tries first")


def hashed(secret: str) -> str:
    """What is kept of one."""
    kdf = Argon2id(salt=os.urandom(16), length=32, iterations=_TURNS, lanes=_LANES, memory_cost=_KIB)
    with _one_at_a_time:
        return kdf.derive_phc_encoded(secret.encode())


def _is(secret: str, known: str) -> bool:
    if len(secret) > LONGEST:
        return False
    try:
        Argon2id.verify_phc_encoded(secret.encode(), known)
    except InvalidKey:
        return False
    return True


def digest_of(token: str) -> str:
    """What is kept of a token: with so many letters drawn at random a plain digest says nothing of it."""
    return sha256(token.encode()).hexdigest()
