"""Invented people of an invented school."""

SCHOOL = "Tern Island Community School"
COMPOSER = f"written for {SCHOOL}"
DIRECTOR = ("Ansa Quill", "director@tern.example", "lantern-and-tide")
CLASS_CODE = "TERN26"
PIN = "2468"

SECTIONS = {
    "Flutes": 8,
    "Oboes": 2,
    "Clarinets": 12,
    "Alto saxophones": 6,
    "Trumpets": 7,
    "Horns": 4,
    "Trombones": 5,
    "Percussion": 4,
    "Violins I": 9,
    "Violins II": 9,
    "Violas": 6,
    "Cellos": 6,
    "Basses": 4,
}
"""A wind band of 48 and a string orchestra of 34."""

_FIRST = (
    "Abel", "Alba", "Amos", "Anni", "Arlo", "Bea", "Benno", "Birk", "Brisa", "Calla", "Cato",
    "Ceri", "Cleo", "Dana", "Davin", "Dilys", "Dov", "Edda", "Eino", "Elke", "Emrys", "Enid",
    "Esme", "Fenn", "Fia", "Finn", "Flora", "Gale", "Gwen", "Hale", "Hedy", "Ilse", "Ines",
    "Iver", "Jory", "Juno", "Kaja", "Kiah", "Kit", "Lark", "Leif", "Lena", "Lior", "Lotte",
    "Mabel", "Maren", "Milo", "Mina", "Nell", "Nico", "Nils", "Noor", "Odin", "Olive", "Orla",
    "Otis", "Pax", "Perla", "Petra", "Quinn", "Remy", "Rhea", "Rory", "Runa", "Sage", "Selby",
    "Signe", "Silas", "Sol", "Suri", "Tove", "Tess", "Thea", "Tilde", "Tor", "Una", "Vera",
    "Wren", "Wilma", "Yara", "Ylva", "Zeno",
)  # fmt: skip
_INITIALS = "KMPRSTVBDFGHL"


def roster() -> dict[str, list[str]]:
    """Names by section; each name stands once."""
    names = [f"{first} {_INITIALS[i % len(_INITIALS)]}." for i, first in enumerate(_FIRST)]
    taken = iter(names[i * 31 % len(names)] for i in range(len(names)))
    return {section: [next(taken) for _ in range(size)] for section, size in SECTIONS.items()}
