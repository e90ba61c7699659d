"""Kin among all measures of all parts.

Each measure is explained once, by the longest earlier stretch that it continues, in the order:
identical, transposed, augmented or diminished, near, same rhythm. So the links are few, and each
says "this you have learned already".
"""

from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Sequence
from fractions import Fraction
from math import gcd, lcm

from crumb.core.score.model import Part
from crumb.core.similarity.compare import are_near, commonest_shift, differences
from crumb.core.similarity.fingerprints import Book, Fingerprint, fingerprints, height_of, sketch
from crumb.core.similarity.model import Attack, Kin, Relation, Sketch, Stretch

_TRIED = 6  # earlier places looked at for each measure
_RHYTHM_LINKS = 60  # rhythm alone matches thousands of times: only the rarest are worth a word
_MOST_SCALED = 16  # notes of a figure that is looked for at twice or half its values
_COMMON = 12  # a rhythm that comes oftener says nothing

Place = tuple[int, int]


def find_kin(parts: Sequence[Part]) -> list[Kin]:
    """Kin inside and across parts, in score order of the later of the two.

    Args:
        parts: the parts of one score; a single part finds kin inside it.
    """
    return kin_among([sketch(part) for part in parts])


def kin_among(sketches: Sequence[Sketch]) -> list[Kin]:
    """The same from sketches of the parts, which may have been made elsewhere."""
    finest = lcm(*(made.per_quarter for made in sketches))
    return _Finder([made.scaled(finest) for made in sketches]).find()


class _Finder:
    def __init__(self, parts: Sequence[Sketch]) -> None:
        book = Book()
        self.parts = parts
        self.prints = [fingerprints(part, book) for part in parts]
        self.explained: set[Place] = set()
        self.found: list[Kin] = []

    def find(self) -> list[Kin]:
        self._runs(Relation.IDENTICAL, lambda p: p.exact, lambda a, b: 0)
        self._runs(Relation.TRANSPOSED, lambda p: p.shape, _interval)
        self._runs(Relation.SEQUENCE, lambda p: p.tonal, _letters)
        self._augmented()
        self._shifted()
        self._near()
        self._rhythms()
        order = {name: place for place, name in enumerate(Relation)}
        self.found.sort(key=lambda k: (k.b.part, k.b.first, order[k.relation], k.a.part, k.a.first))
        return self.found

    def _measures(self) -> Iterable[tuple[Place, Fingerprint]]:
        for part, prints in enumerate(self.prints):
            for index, fingerprint in enumerate(prints):
                yield (part, index), fingerprint

    def _runs(
        self,
        relation: Relation,
        key: Callable[[Fingerprint], int],
        interval: Callable[[Fingerprint, Fingerprint], int],
    ) -> None:
        """Longest earlier stretches with equal keys and one interval throughout."""
        earlier: dict[int, list[Place]] = defaultdict(list)
        for (part, index), fingerprint in self._measures():
            value = key(fingerprint)
            if value < 0:
                continue
            places = earlier[value]
            if (part, index) not in self.explained and places:
                best = max(
                    (self._run(place, (part, index), key, interval) for place in places[:_TRIED]),
                    key=lambda run: run[0],
                )
                self._add_run(relation, best, (part, index))
            # The first times it came, and the latest: a repeat mostly follows what came last.
            if len(places) < _TRIED:
                places.append((part, index))
            else:
                places[-1] = (part, index)

    def _run(
        self,
        a: Place,
        b: Place,
        key: Callable[[Fingerprint], int],
        interval: Callable[[Fingerprint, Fingerprint], int],
    ) -> tuple[int, Place, int]:
        """How many measures go on being alike, from where, at which interval."""
        one, two = self.prints[a[0]], self.prints[b[0]]
        shift = interval(one[a[1]], two[b[1]])
        most = min(len(one) - a[1], len(two) - b[1])
        if a[0] == b[0]:
            most = min(most, b[1] - a[1])  # a stretch does not explain itself
        length = last = 0
        while length < most:
            x, y = one[a[1] + length], two[b[1] + length]
            if not x.attacks and not y.attacks:
                length += 1
                continue
            is_free = (b[0], b[1] + length) not in self.explained
            if key(x) < 0 or key(x) != key(y) or interval(x, y) != shift or not is_free:
                break
            length += 1
            last = length
        return last, a, shift

    def _add_run(self, relation: Relation, run: tuple[int, Place, int], b: Place) -> None:
        length, a, shift = run
        if length == 0:
            return
        if relation == Relation.SEQUENCE and shift == 0:
            return  # the same letters with other signs: near, or not
        self.explained |= {(b[0], b[1] + k) for k in range(length)}
        if relation == Relation.TRANSPOSED and shift == 0:
            return
        one, two = (self.prints[part][index] for part, index in (a, b))
        is_tonal = relation == Relation.SEQUENCE
        self.found.append(
            Kin(
                Stretch(a[0], a[1], a[1] + length - 1),
                Stretch(b[0], b[1], b[1] + length - 1),
                relation,
                _interval(one, two) if is_tonal else shift,
                steps=shift if is_tonal else 0,
            )
        )

    def _augmented(self) -> None:
        """One or two measures against two or one with all values doubled or halved."""
        keys: dict[object, tuple[Stretch, int]] = {}
        seen: set[tuple[int, ...]] = set()
        for part, prints in enumerate(self.prints):
            for index in range(len(prints)):
                for count in (1, 2):
                    # What came before note for note was looked at there.
                    same = tuple([p.exact for p in prints[index : index + count]])
                    if same in seen:
                        continue
                    seen.add(same)
                    made = self._proportions(part, index, count)
                    if made is None:
                        continue
                    key, unit, first = made
                    stretch = Stretch(part, index, index + count - 1)
                    before = keys.get(key)
                    if before is None:
                        keys[key] = (stretch, unit)
                    elif before[1] != unit and not self._is_explained(stretch):
                        shift = first - self._first_of(before[0])
                        self.found.append(
                            Kin(
                                before[0],
                                stretch,
                                Relation.AUGMENTED,
                                shift,
                                Fraction(unit, before[1]),
                            )
                        )
                        self.explained |= {(part, index + k) for k in range(count)}

    def _proportions(self, part: int, index: int, count: int) -> tuple[object, int, int] | None:
        prints = self.prints[part]
        if index + count > len(prints):
            return None
        here = prints[index].attacks
        after = prints[index + 1].attacks if count == 2 else ()
        if not here or (count == 2 and not after) or here[0].at != 0:
            return None
        if not 4 <= len(here) + len(after) <= _MOST_SCALED:
            return None
        start = self.parts[part].lengths[index]
        starts = [a.at for a in here] + [start + a.at for a in after]
        both = here + after
        if len({a.midi for a in both}) < 3 or len(set(starts)) != len(starts):
            return None
        unit = gcd(*starts, *[a.length for a in both])
        if unit == 0:
            return None
        first = here[0].midi
        key = tuple(
            [
                (a.midi - first, at // unit, a.length // unit)
                for a, at in zip(both, starts, strict=True)
            ]
        )
        return key, unit, first

    def _first_of(self, stretch: Stretch) -> int:
        return self.prints[stretch.part][stretch.first].attacks[0].midi

    def _is_explained(self, stretch: Stretch) -> bool:
        return any(
            (stretch.part, i) in self.explained for i in range(stretch.first, stretch.last + 1)
        )

    def _shifted(self) -> None:
        """Figures that come at another beat of the measure than before."""
        earlier: dict[int, list[tuple[Place, int]]] = defaultdict(list)
        for place, fingerprint in self._measures():
            if place not in self.explained:
                self._shift(place, fingerprint, earlier)
            for at, key in fingerprint.figures:
                if len(earlier[key]) < _TRIED:
                    earlier[key].append((place, at))

    def _shift(
        self, place: Place, here: Fingerprint, earlier: dict[int, list[tuple[Place, int]]]
    ) -> None:
        for at, key in here.figures:
            found = earlier.get(key, ())
            if any(before == at for _, before in found):
                return  # it is where it was: near, then
            if not found:
                continue
            other, before = found[0]
            theirs = self.prints[other[0]][other[1]]
            shift = _at(here, at).midi - _at(theirs, before).midi
            moved = Fraction(at - before, self.parts[place[0]].per_quarter)
            self.found.append(
                Kin(
                    Stretch(*other, other[1]),
                    Stretch(*place, place[1]),
                    Relation.SHIFTED,
                    shift,
                    later=moved,
                )
            )
            self.explained.add(place)
            return

    def _near(self) -> None:
        """Measures alike but for few notes: same rhythm, or the same first half."""
        earlier: dict[tuple[str, int], list[Place]] = defaultdict(list)
        for place, fingerprint in self._measures():
            keys = [("rhythm", fingerprint.rhythm), ("head", fingerprint.head)]
            keys = [key for key in keys if key[1] >= 0]
            if place not in self.explained and len(fingerprint.attacks) >= 4:
                candidates = dict.fromkeys(p for key in keys for p in earlier[key])
                self._nearest(place, fingerprint, candidates)
            for key in keys:
                if len(earlier[key]) < _TRIED:
                    earlier[key].append(place)

    def _nearest(self, place: Place, fingerprint: Fingerprint, candidates: Iterable[Place]) -> None:
        best: Kin | None = None
        for other in candidates:
            theirs = self.prints[other[0]][other[1]].attacks
            shift = commonest_shift(theirs, fingerprint.attacks)
            found = differences(theirs, fingerprint.attacks, shift)
            if are_near(theirs, found) and (best is None or len(found) < len(best.differs)):
                best = Kin(
                    Stretch(other[0], other[1], other[1]),
                    Stretch(place[0], place[1], place[1]),
                    Relation.NEAR,
                    shift,
                    differs=found,
                )
        if best is not None:
            self.found.append(best)
            self.explained.add(place)

    def _rhythms(self) -> None:
        """The rarest rhythms that come back at other pitches."""
        counts = Counter(p.rhythm for _, p in self._measures() if p.rhythm >= 0)
        first: dict[int, Place] = {}
        links: list[tuple[int, int, int, Kin]] = []
        for place, fingerprint in self._measures():
            rhythm = fingerprint.rhythm
            if rhythm < 0 or counts[rhythm] > _COMMON:
                continue
            if rhythm not in first:
                first[rhythm] = place
            elif place not in self.explained:
                a = first[rhythm]
                link = Kin(
                    Stretch(a[0], a[1], a[1]), Stretch(*place, place[1]), Relation.SAME_RHYTHM
                )
                links.append((counts[rhythm], -len(fingerprint.attacks), len(links), link))
        links.sort(key=lambda row: row[:3])
        self.found.extend(link for *_, link in links[:_RHYTHM_LINKS])


def _at(fingerprint: Fingerprint, at: int) -> Attack:
    return next(attack for attack in fingerprint.attacks if attack.at == at)


def _letters(a: Fingerprint, b: Fingerprint) -> int:
    if not a.attacks or not b.attacks:
        return 0
    return height_of(b.attacks[0].name) - height_of(a.attacks[0].name)


def _interval(a: Fingerprint, b: Fingerprint) -> int:
    return b.attacks[0].midi - a.attacks[0].midi if a.attacks and b.attacks else 0
