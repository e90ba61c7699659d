"""The statements of a hand-in, in three round trips however long the history.

One reads everything that the rules want to know as a single JSON document; the locks are taken
before it, so that it sees what others have just written. The nearest repetitions are looked for
within a quarter of an hour, longer than one pass of anything lasts: so no plan can read a history.
"""

import json
from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from crumb.store.codecs.evidence import COLUMNS
from crumb.store.pipeline import Script, Statement, batch

# Who is asking --------------------------------------------------------------------------------

_WHO = """
select p.id, p.program_id, p.role, p.name, g.name, g.class_code, g.time_zone, g.words, g.paper,
  (select array_agg(c.section_id order by c.section_id) from charge c
   where c.person_id = p.id and c.section_id is not null),
  (select min(c.student_id::text)::uuid from charge c
   where c.person_id = p.id and c.student_id is not null)
from signed_in s join person p on p.id = s.person_id join program g on g.id = p.program_id
where s.token_hash = %(token)s and s.expires_at > now()
"""


def who_of(token_hash: bytes) -> Statement:
    """The person of a session, and their program."""
    return Statement(_WHO, {"token": token_hash})


# What was sent --------------------------------------------------------------------------------

_SENT = """
select i.id, a.part_id, p.root_id, a.sent_at, i.frozen,
  (select json_agg(json_build_object('place', s.place, 'name', s.name, 'kind', s.kind,
     'as_written', s.as_written, 'is_aided', s.is_aided, 'rhythm', s.rhythm,
     'start_index', s.start_index, 'start_at', s.start_at, 'end_index', s.end_index,
     'end_at', s.end_at, 'quarters', s.quarters, 'pace', s.pace, 'attacks', s.attacks)
     order by s.place) from sent_step s where s.item_id = i.id)
from assignment_item i join assignment a on a.id = i.assignment_id join part p on p.id = a.part_id
where i.id = any(%(items)s::uuid[])
"""
_RECEIVED = """
select i.id from assignment_item i join assignment a on a.id = i.assignment_id
  join assignment_student st on st.assignment_id = a.id
where i.id = any(%(items)s::uuid[]) and st.student_id = %(student)s and a.program_id = %(program)s
"""


def sent_drills(items: Sequence[UUID]) -> Statement:
    """Drills as they were sent, whoever they were sent to: what they are never changes."""
    return Statement(_SENT, {"items": list(items)})


def received(program_id: UUID, student_id: UUID, items: Sequence[UUID]) -> Statement:
    """The drills among some that were sent to this student."""
    return Statement(
        _RECEIVED, {"items": list(items), "student": student_id, "program": program_id}
    )


# Locks ----------------------------------------------------------------------------------------

_ROOTS = """
select distinct p.root_id from part p
where p.id = any(%(parts)s::uuid[])
  or p.id in (select e.part_id from evidence e where e.id = any(%(ids)s::uuid[]))
"""
# Nobody who has a part alone waits for a student, so these two may be taken in either order.
_LOCK = """
select pg_advisory_xact_lock(hashtextextended(%(student)s, 2)),
  (select count(pg_advisory_xact_lock_shared(hashtextextended(root, 1)))
   from unnest(%(roots)s::text[]) root)
"""


def roots_of(parts: Iterable[UUID], ids: Iterable[UUID]) -> Statement:
    """The roots of some parts, and of those that some evidence is of."""
    return Statement(_ROOTS, {"parts": list(parts), "ids": list(ids)})


def locks(student_id: UUID, roots: Iterable[UUID]) -> Statement:
    """The locks of ``queries.locks``: the student, and parts in the order of their roots."""
    in_order = [str(root) for root in sorted(set(roots))]
    return Statement(_LOCK, {"student": str(student_id), "roots": in_order})


# Everything that the rules want to know -------------------------------------------------------

_STATE = """
select json_build_object(
  'known', (select coalesce(json_agg(json_build_object('id', e.id, 'student_id', e.student_id,
      'part_id', e.part_id, 'item_id', e.item_id, 'start_index', e.start_index,
      'start_at', e.start_at, 'end_index', e.end_index, 'end_at', e.end_at)), '[]')
    from evidence e where e.id = any(%(ids)s::uuid[])),
  'climbs', (select coalesce(json_agg(to_json(c)), '[]')
    from climb c where c.student_id = %(student)s and c.item_id = any(%(items)s::uuid[])),
  'neighbours', (select coalesce(json_agg(json_build_object('before',
      (select json_build_object('at', e.played_at, 'is_clean', e.is_clean)
        from evidence e left join retraction r on r.evidence_id = e.id
        where e.student_id = %(student)s and e.played_at <= m.at
          and e.played_at > m.at - interval '15 minutes' and e.source = 'self'
          and e.doubt in ('', 'jump') and r.evidence_id is null and not e.id = any(%(gone)s::uuid[])
        order by e.played_at desc limit 1),
      'after', (select json_build_object('at', e.played_at, 'is_clean', e.is_clean)
        from evidence e left join retraction r on r.evidence_id = e.id
        where e.student_id = %(student)s and e.played_at > m.at
          and e.played_at < m.at + interval '15 minutes' and e.source = 'self'
          and e.doubt in ('', 'jump') and r.evidence_id is null and not e.id = any(%(gone)s::uuid[])
        order by e.played_at limit 1)) order by m.place), '[]')
    from unnest(%(moments)s::timestamptz[]) with ordinality as m(at, place)),
  'parts', (select coalesce(json_agg(json_build_object('id', p.id, 'goal_bpm', p.goal_bpm,
      'replaces_id', p.replaces_id, 'carried', p.carried, 'mastery_rules', g.mastery_rules)), '[]')
    from part p join program g on g.id = p.program_id
    where p.id = any(%(parts)s::uuid[]) or p.replaces_id = any(%(parts)s::uuid[])),
  'chunks', (select coalesce(json_agg(json_build_object('part_id', w.part_id, 'id', k.id,
      'start_index', k.start_index, 'start_at', k.start_at, 'end_index', k.end_index,
      'end_at', k.end_at, 'opens', k.opens, 'closes', k.closes, 'fold', m.fold, 'clean', m.clean,
      'slips', m.slips, 'last_played_at', m.last_played_at, 'last_id', m.last_id,
      'rules', m.rules)), '[]')
    from unnest(%(parts)s::uuid[], %(firsts)s::int[], %(lasts)s::int[]) as w(part_id, first, last)
      join chunk k on k.part_id = w.part_id and k.start_index <= w.last
        and k.end_index >= w.first
      left join mastery m on m.chunk_id = k.id and m.student_id = %(student)s))
"""


def facts_of(
    student_id: UUID,
    *,
    items: Sequence[UUID] = (),
    ids: Sequence[UUID] = (),
    gone: Sequence[UUID] = (),
    moments: Sequence[datetime] = (),
    ranges: Mapping[UUID, tuple[int, int]],
) -> Statement:
    """All of it. ``ranges`` are the measures concerned, first and last, by part."""
    return Statement(
        _STATE,
        {
            "student": student_id,
            "items": list(items),
            "ids": list(ids),
            "gone": list(gone),
            "moments": list(moments),
            "parts": list(ranges),
            "firsts": [first for first, _ in ranges.values()],
            "lasts": [last for _, last in ranges.values()],
        },
    )


# History, where it must be folded anew --------------------------------------------------------

_ON_PART = f"""
select e.start_index, e.start_at, e.end_index, e.end_at, {", ".join(f"e.{n}" for n in COLUMNS)}
from evidence e left join retraction r on r.evidence_id = e.id
where e.part_id = %(part)s and e.student_id = %(student)s and r.evidence_id is null
"""  # noqa: S608 - our own names
_EARLIER = "select replaces_id, carried from part where id = %(part)s"
_ON_ITEM = """
select e.step, e.tempo_bpm, e.is_clean, e.played_at, e.id, e.source
from evidence e left join retraction r on r.evidence_id = e.id
where e.item_id = %(item)s and e.student_id = %(student)s and e.what = 'repetition'
  and e.doubt in ('', 'jump') and r.evidence_id is null
order by e.played_at, e.id
"""


def on_part(part_id: UUID, student_id: UUID) -> Statement:
    """All that a student played on a part and did not take back: where, and what (``COLUMNS``)."""
    return Statement(_ON_PART, {"part": part_id, "student": student_id})


def earlier(part_id: UUID) -> Statement:
    """The version that a part replaces, and the measures carried over."""
    return Statement(_EARLIER, {"part": part_id})


def earlier_version(part_id: UUID) -> Script[tuple[UUID | None, dict[int, int]]]:
    """The same by itself: the earlier part, if any, and each measure's old and new index."""
    (((replaces, carried),),) = yield batch(earlier(part_id))
    return replaces, moves_of(carried)


def moves_of(carried: Mapping[str, int]) -> dict[int, int]:
    """Measures carried over, by their old index; JSON has keys as text."""
    return {int(before): after for before, after in carried.items()}


def on_item(item_id: UUID, student_id: UUID) -> Statement:
    """A student's repetitions on a drill, in order."""
    return Statement(_ON_ITEM, {"item": item_id, "student": student_id})


# Writing --------------------------------------------------------------------------------------

EVIDENCE_COLUMNS = {
    "id": "uuid", "program_id": "uuid", "student_id": "uuid", "part_id": "uuid", "what": "text",
    "item_id": "uuid", "step": "int", "step_name": "text", "kind": "text", "as_written": "bool",
    "is_aided": "bool", "rhythm": "text", "start_index": "int", "start_at": "text",
    "end_index": "int", "end_at": "text", "tempo_bpm": "text", "is_clean": "bool",
    "level": "smallint", "by_id": "uuid", "reason": "text", "played_at": "timestamptz",
    "local_day": "date", "source": "text", "doubt": "text", "rules": "smallint",
}  # fmt: skip
_MASTERY_COLUMNS = {
    "student_id": "uuid", "chunk_id": "uuid", "level": "int", "proved_bpm": "text", "why": "text",
    "next_step": "text", "seam_in": "bool", "seam_out": "bool", "secure_bpm": "float8",
    "secure_low": "float8", "secure_high": "float8", "is_enough": "bool", "best_bpm": "text",
    "due_on": "date", "clean": "int", "slips": "int", "last_played_at": "timestamptz",
    "last_id": "uuid", "fold": "jsonb", "rules": "smallint",
}  # fmt: skip
_CLIMB_COLUMNS = {
    "item_id": "uuid", "student_id": "uuid", "tempo": "text", "reach": "text", "step": "int",
    "in_a_row": "int", "slips_in_a_row": "int", "done": "int[]", "cycles": "int",
    "is_finished": "bool", "told": "text", "last_at": "text", "last_played_at": "timestamptz",
    "last_id": "uuid",
}  # fmt: skip


def _put(table: str, columns: Mapping[str, str], conflict: str) -> str:
    names = ", ".join(columns)
    typed = ", ".join(f"{name} {kind}" for name, kind in columns.items())
    return (
        f"insert into {table} ({names}) select {names}"  # noqa: S608 - our own names
        f" from jsonb_to_recordset(%(rows)s::jsonb -> '{table}') as r({typed}) {conflict}"
    )


def _instead(key: str, columns: Mapping[str, str]) -> str:
    changed = ", ".join(f"{n} = excluded.{n}" for n in columns if n not in key.split(", "))
    return f"on conflict ({key}) do update set {changed}"


_EVIDENCE = _put("evidence", EVIDENCE_COLUMNS, "on conflict (id) do nothing")
_MASTERY = _put("mastery", _MASTERY_COLUMNS, _instead("student_id, chunk_id", _MASTERY_COLUMNS))
_CLIMB = _put("climb", _CLIMB_COLUMNS, _instead("item_id, student_id", _CLIMB_COLUMNS))
_PUT_ALL = f"""
with evidence_put as ({_EVIDENCE}), mastery_put as ({_MASTERY}), climb_put as ({_CLIMB})
insert into retraction (evidence_id, retracted_at)
select id::uuid, now() from jsonb_array_elements_text(%(rows)s::jsonb -> 'gone') as r(id)
on conflict (evidence_id) do nothing
"""  # noqa: S608 - our own names


def put_all(
    *,
    evidence: Sequence[Mapping[str, Any]],
    mastery: Sequence[Mapping[str, Any]],
    climbs: Sequence[Mapping[str, Any]],
    gone: Iterable[UUID],
) -> Statement:
    """Write evidence, put levels and climbs in the place of those kept, say what was taken back.

    Evidence with an id that is there already stays as it is.
    """
    rows = {"evidence": evidence, "mastery": mastery, "climb": climbs, "gone": sorted(gone)}
    return Statement(_PUT_ALL, {"rows": json.dumps(rows, default=str)})
