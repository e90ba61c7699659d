"""Instruments by the names that parts and scores print: words, abbreviations, numbers.

In English, Italian, German and French.

Abbreviations are those of scores (Gardner Read, Music Notation, tables of instruments, from memory)
and of school band parts (common practice, no source).
"""

import re
import unicodedata

_SAX = r"s(?:a?x(?:oph\w*|es|s)?|axes|x)\b"
_CL = r"cl(?:s|t|ts|ar|ars|ar\w+)?\b"
_TROMBONE = r"(?:trom(?:b|bon\w*|s)?|tbns?|trbns?|trbs?|tbs?|trmbs?|posaunen?|pos)\b"

# First match wins. What is matched is plain: small letters, no accents, "b" for a flat sign, one
# space between words; a dot after one letter stays as "." where it tells "A. Cl." from "A Cl.".
_WORDS: tuple[tuple[str, str], ...] = (
    (r"\bkl(?:eine)? tr\w*", "Snare drum"),
    (r"\bpicc?\w*\.? (?:tpt|trp|trum|tromp|tromba)", "Trumpet"),
    (rf"\bpicc\w* {_CL}|\brequinto\b|clarinetto piccolo|kleine klarinette", "E♭ clarinet"),
    (r"\bpicc?s?\b|\bpiccol|\bpico\b|\bottavin|\bflautin|petite flute|kleine flote", "Piccolo"),
    (r"\b(?:alto?|a\.) ?fl|\baltflote|flaut\w* contralto|flute en sol|flute in g\b", "Alto flute"),
    (r"\b(?:bass|b\.) ?(?:fl\b|flut)|\bbassflote|flauto basso", "Bass flute"),
    (r"fl[ue]*gel|\bfl(?:g|h)+n?s?\b|\bflu?g\b|\bflicorno\b", "Flugelhorn"),
    (r"\bfls?\b|\bflts?\b|\bflt?e\b|\bfl[aou]\w*t|\bflot|\btraverso|\bflutes?\b", "Flute"),
    (
        r"\be\.? ?h(?:n|rn|orn)?\b|\beng(?:l|lish)?\.? ?h|\bcor ang|\bcor\.? ?a\b|\bc\.? ?a\.?$"
        r"|\bca\b|\bc\.? ?ing|corno inglese|englischhorn|\beh\b",
        "English horn",
    ),
    (r"\bobs?\b|\bobo[ei]\w*|\bhautb|\bhtb", "Oboe"),
    (
        r"\b(?:contra|kontra|contre) ?(?:bassoon|basson|fag)|\bc\.? ?bsn|\bcbn\b|\bc\.? ?fag?\b"
        r"|\bcfg\b|\bkfag\b",
        "Contrabassoon",
    ),
    (
        rf"\b(?:contra ?alto|contra alt|eb contra\w*|c\.? ?a\.) ?{_CL}|contralt\w* cl",
        "Contra-alto clarinet",
    ),
    (
        rf"\b(?:contra|contrabass|contra bass|cb\.?|c\.? ?b\.) ?{_CL}|\bcbcl\b"
        r"|\bkontrabassklarinette|\bcl\w* contrabass",
        "Contrabass clarinet",
    ),
    (r"\bbasset|\bbassetth|corno di bassetto", "Basset horn"),
    (
        rf"\b(?:bass|bs|b\.) ?{_CL}|\bbasskl|\bbkl\b|\bbcl\b|\bcl\w* bass\w*|\bcl\w*,? bass"
        r"|bass ?klar|\bclb\b",
        "Bass clarinet",
    ),
    (rf"\b(?:alto?|a\.) ?{_CL}|\baltkl|clarinetto contralto", "Alto clarinet"),
    (
        rf"\b(?:eb|es) ?{_CL}|\b(?:eb|es) ?kl|\b(?:cl\w*|kl\w*)\.? (?:in |en )?(?:eb|es|mib)\b",
        "E♭ clarinet",
    ),
    (rf"\ba ?{_CL}|\b(?:cl\w*|kl\w*)\.? (?:in |en )?(?:a|la)\b|\ba klar", "A clarinet"),
    (rf"\b{_CL}|\bklar|\bkls?\b", "Clarinet"),
    (rf"\b(?:soprano?|sop|s\.?) ?{_SAX}|{_SAX}.*\bsop|\bsopransax|\bssax\b", "Soprano saxophone"),
    (rf"\b(?:bass|bs) ?{_SAX}|\bbasssax", "Bass saxophone"),
    (rf"\b(?:tenore?|ten|t\.?) ?{_SAX}|{_SAX}.*\bten|\btenorsax|\btsax\b", "Tenor saxophone"),
    (
        rf"\b(?:baritone?|bariton|baritono|bari|bar|br|b\.?) ?{_SAX}|{_SAX}.*\bbar"
        r"|\bbaritonsax|\bbsax\b",
        "Baritone saxophone",
    ),
    (rf"\b{_SAX}|\w+sax|\bsax", "Alto saxophone"),
    (r"\bbsns?\b|\bbns?\b|\bbassoons?\b|\bbassons?\b|\bfag\w*|\bfgs?\b|\bfgt\b", "Bassoon"),
    (r"\bmello|\bmel{1,2}ph?\b", "Mellophone"),
    (r"\balto? ?horn|\balto? ?hn|\balthorn|\beb (?:alto )?(?:horn|hn)|\btenor horn", "Alto horn"),
    (r"\btenorh", "Euphonium in B♭"),
    (
        rf"\b(?:bass|bs|b\.) ?{_TROMBONE}|\bbassposaune|trombon\w* bass\w*|\bbtbn?\b",
        "Bass trombone",
    ),
    (rf"\b{_TROMBONE}", "Trombone"),
    (r"\bcornets?\b|\bcnts?\b|\bcrn?ts?\b|\bcorts?\b|\bkornett|\bcornett|\bpistons?\b", "Cornet"),
    (
        r"\b(?:c|do) ?(?:tpt|trp|trum|tromp)|\btr\w*\.? (?:in |en )?(?:c|do|ut)\b"
        r"|\btpt\.? (?:in )?c\b",
        "C trumpet",
    ),
    (
        r"\btpts?\b|\btrps?\b|\btrpts?\b|\btrumpe?t?|\btromp|\btromb[ae]\b|\btrs?\b|\bclarino|\bbugle",
        "Trumpet",
    ),
    (r"(?:euph\w*|bar\w*)\.? ?(?:in bb )?t\.? ?c\b|treble clef (?:euph|bar)", "Euphonium in B♭"),
    (r"\beuph|\beup\b|\bbaritone?s?\b(?! voi)|\bbars?\b|\bbari\b|\bbombard", "Euphonium"),
    (r"\btubas?\b|\btbas?\b|\btuben?\b|\bsousa|\bhelikon|\bbasstuba|\bbb?b bass\b", "Tuba"),
    (
        r"\bhns?\b|\bhrns?\b|\bhrs?\b|\bhorns?\b|\bhorner\b|\bcorn[oi]\b|\bcors?\b|\bwaldhorn",
        "Horn",
    ),
    (
        r"\bbass dr|\bb\.? ?d(?:r|rum)?\b|\bgr(?:osse|an)?\.? (?:tr|cais|cassa)|\bgran cassa",
        "Percussion",
    ),
    (
        r"\bsnares?\b|\bside dr|\bs\.? ?d(?:r|rs)?\b|\bsn\b|caisse claire"
        r"|\btamburo (?:mil|picc)|\bmil(?:itary)?\.? dr|\bfield dr|\bsnare",
        "Snare drum",
    ),
    (
        r"\b(?:electric|elec|el|e)\.? ?bass(?:es)?\b"
        r"|\bbass ?(?:guit|gtr|gui)|\bbassgit|basse elec|\bebass",
        "Electric bass",
    ),
    (r"\bviolonc|\bcell[oi]s?\b|'cell|\bvcs?\b|\bvcl?s?\b|\bvlcs?\b|\bvcll\b|\bv\.c\b", "Cello"),
    (
        r"\b(?:contra|kontra|contre) ?(?:bass|b)|\b(?:double|string|str|st|upright|acoustic|dbl)"
        r"\.? ?bass|\bs\.? bass\b|\bd\.? ?bs?\b|\bcbs?\b|\bc\.? ?b\b|\bkbs?\b|\bbass[ei]s?\b"
        r"|\bdbl? ?bs\b|\bbass string",
        "Double bass",
    ),
    (r"\bvlas?\b|\bviolas?\b|\bviole\b|\bvas?\b|\bvle\b|\bbratsch|\bbr\b|^altos?$", "Viola"),
    (
        r"\bviolin\w*|\bviolons?\b|\bvlns?\b|\bvns?\b|\bvls?\b|\bviol\b|\bgeigen?\b|\bfiddles?\b"
        r"|\bvn[io]\b|\bvlno\b",
        "Violin",
    ),
    (r"\bchimes?\b|\btub(?:ular)?\.? bells|rohrengl|\bcampane\b", "Mallets"),
    (
        r"\bglock|\bglsp?\b|\bgl\b|\bbells?\b|\bcampanelli|\blyra|jeu de t|\bo\.? ?b\b",
        "Glockenspiel",
    ),
    (r"\bx[iy]l", "Xylophone"),
    (r"\bmar(?:imb\w*|s)?\b", "Marimba"),
    (r"\bvib(?:es|s|ra\w*)?\b|\bvbf?\b", "Vibraphone"),
    (r"\bmall?et|\bmlts?\b|\bkeyboard perc|\bmal\b", "Mallets"),
    (r"\btimp|\bpauken?\b|\bpks?\b|\bkettle|\btimb", "Timpani"),
    (
        r"\bperc|\bdrum|\bdr\b|\bdr?s\b|\bcymb?|\bcr?\.? cym|\bs\.? cym|\bpiatti|\bbecken|\btriang"
        r"|\btrgl|\btamb|\bwood ?bl|\btoms?\b|\bschlag|\bbatt|\bgong|\btam|\bclaves|\bmarac"
        r"|\bguiro|\bbongo|\bconga|\bhi ?hat|\baux|\bcowbell|\bwhip|\bratchet",
        "Percussion",
    ),
    (
        r"\bpno?s?\b|\bpian|\bpf\b|\bklav|\borg|\bharpsi|\bcemb|\bkeyb|\bkbd|\bsynth|\bcel(?:esta)?\b",
        "Piano",
    ),
    (r"\bharpe?s?\b|\bhps?\b|\bhfs?\b|\barp[ae]\b|\bharfe", "Harp"),
    (r"\bguit|\bgtr|\bgit|\bbanjo|\blute|\bukul|\bmandol|\bguitar", "Guitar"),
    (r"\bvoic|\bsopr?|\balto?s?\b|\btenor|\bbass\b|\bcantus|\bch[oœ]|\bvoc|\bsingst", "Voice"),
)
_COMPILED = tuple((re.compile(pattern), name) for pattern, name in _WORDS)
_OTHER = re.compile(r"[^a-z0-9.'#]+")
_DOT = re.compile(r"(?<=[a-z0-9]{2})\.|(?<=[0-9])\.|(?<![a-z0-9])\.")


def plain_name(text: str) -> str:
    """A name in small letters without accents, flats as ``b``, dots only after single letters."""
    name = text.replace("♭", "b").replace("♯", "#").replace("\u2019", "'")
    name = unicodedata.normalize("NFKD", name)
    name = "".join(c for c in name if not unicodedata.combining(c)).lower().replace("ß", "ss")
    name = re.sub(r"\b([a-g])[- ]?flat\b", r"\1b", name)
    name = _DOT.sub(" ", _OTHER.sub(" ", name))
    return " ".join(name.split())


def instrument_meant(text: str) -> str | None:
    """The instrument that a part's name means; None if nobody can tell."""
    plain = plain_name(text)
    return next((name for pattern, name in _COMPILED if pattern.search(plain)), None)


_ROMAN = {"i": 1, "ii": 2, "iii": 3, "iv": 4, "v": 5, "vi": 6}
_ORDINALS = {
    "first": 1,
    "second": 2,
    "third": 3,
    "fourth": 4,
    "primo": 1,
    "secondo": 2,
    "terzo": 3,
    "prima": 1,
    "seconda": 2,
    "terza": 3,
    "erste": 1,
    "zweite": 2,
    "dritte": 3,
}
_NUMBER = re.compile(r"^([1-9])(?:st|nd|rd|th|e|er|o|a)?$")


def desk_of(text: str) -> int | None:
    """The number of a part or section: 1 for ``1st Violin``, ``Violins I`` or ``Fl. 1``."""
    for word in plain_name(text).replace(".", " ").split():
        found = _NUMBER.match(word)
        if found is not None:
            return int(found[1])
        if word in _ORDINALS:
            return _ORDINALS[word]
    words = plain_name(text).split()
    return _ROMAN.get(words[-1]) if len(words) > 1 else None
