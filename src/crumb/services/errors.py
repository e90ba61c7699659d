"""Errors of use cases, beside those of the core."""

from crumb.core.errors import CrumbError


class NotFound(CrumbError):
    """This does not exist, or it is not yours to see."""


class NotSignedIn(CrumbError):
    """Sign in first."""


class NotAllowed(CrumbError):
    """Your account may not do this."""


class WrongSignIn(CrumbError):
    """That does not match any account. Check each field and try again."""


class TooManyTries(CrumbError):
    """Too many tries. Wait ten minutes and try again."""


class ChangedMeanwhile(CrumbError):
    """This was changed somewhere else in the meantime. It is shown as it is now."""


class NotAccepted(CrumbError):
    """This cannot be accepted as it is."""
