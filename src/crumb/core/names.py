"""Names as they are compared: people type theirs with and without capitals, on any keyboard."""

import unicodedata


def name_key(name: str) -> str:
    """The key that two spellings of one name share.

    Compatibility forms are composed (Unicode's NFKC, with full case folding), invisible signs are
    left out, and spaces are one. Accents stay: Élodie and Elodie are two people.

    Source: The Unicode Standard, section 5.18 and UAX 15.
    """
    folded = unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", name).casefold())
    seen = "".join(c for c in folded if unicodedata.category(c) != "Cf")
    return " ".join(unicodedata.normalize("NFKC", seen).split())
