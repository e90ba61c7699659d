"""Hashes of passwords and PINs, worked out beside everything else.

A hash takes a twentieth of a second of a processor by design. As many as there are processors are
worked out at a time, in threads of low priority, so that three hundred sign-ins keep nobody from
handing in.

Argon2id with 19 MiB, two passes and one lane: the first of the settings that the OWASP Password
Storage Cheat Sheet gives as equally strong (from memory).
"""

import os
import threading
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error

_hasher = PasswordHasher(time_cost=2, memory_cost=19_456, parallelism=1)
AT_ONCE = max(len(os.sched_getaffinity(0)), 1)
_NICE = 5


def _let_others_go_first() -> None:
    os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), _NICE)  # Linux: of this thread


@lru_cache
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(AT_ONCE, "hash", initializer=_let_others_go_first)


os.register_at_fork(after_in_child=_pool.cache_clear)  # threads are not forked


def hash_secret(secret: str) -> str:
    """The Argon2id hash of a password or PIN."""
    return _pool().submit(_hasher.hash, secret).result()


def hash_secrets(secrets: Sequence[str]) -> list[str]:
    """The hashes of several, in their order."""
    return list(_pool().map(_hasher.hash, secrets))


def is_secret(hashed: str | None, secret: str) -> bool:
    """Whether a hash is of a secret; without a hash it takes as long, and is not."""
    return _pool().submit(_verify, hashed or _nobodys(), secret).result() and bool(hashed)


def is_outdated(hashed: str) -> bool:
    """Whether a hash was made by other settings than those of today."""
    return _hasher.check_needs_rehash(hashed)


def _verify(hashed: str, secret: str) -> bool:
    try:
        return _hasher.verify(hashed, secret)
    except (Argon2Error, ValueError):
        return False


@lru_cache
def _nobodys() -> str:
    """The hash against which unknown names are checked, so that they take as long as any other."""
    return _hasher.hash("nobody has this password")
