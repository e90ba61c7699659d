"""Setting up, signing in and out, one's own account."""

import secrets
from uuid import UUID

from fastapi import APIRouter, Response
from pydantic import TypeAdapter

from crumb.api.deps import (
    COOKIE,
    DEVICE_COOKIE,
    AccountHolder,
    ComerIn,
    Db,
    Member,
    Registrar,
    Sessions,
    Token,
)
from crumb.api.schemas.common import Secret
from crumb.api.schemas.session import (
    AcceptIn,
    DirectorSignIn,
    EndedOut,
    FirstDirector,
    HelpIn,
    InvitationOut,
    InvitedOut,
    Me,
    PasswordIn,
    ProgramIn,
    SetupState,
    StudentSignIn,
)
from crumb.api.views.session import rights_of
from crumb.core.vocabulary import Paper, Role, SchoolWords
from crumb.services.access import Actor
from crumb.services.people import accounts, signing_in
from crumb.services.people.signing_in import Credentials
from crumb.services.people.throttle import SignInOrigin
from crumb.settings import get_settings
from crumb.store.unit_of_work import NewSession, unit_of_work

router = APIRouter(tags=["session"])
_DEVICE_DAYS = 400  # as long as browsers keep a cookie


def _with_device(comer: SignInOrigin) -> SignInOrigin:
    """Mark a device after its first right secret."""
    return comer if comer.device else SignInOrigin(comer.place, secrets.token_urlsafe(24))


def _hand_over(response: Response, token: str, comer: SignInOrigin) -> None:
    settings = get_settings()
    for name, value, days in (
        (COOKIE, token, settings.session_days),
        (DEVICE_COOKIE, comer.device or "", _DEVICE_DAYS),
    ):
        response.set_cookie(
            name,
            value,
            max_age=days * 86_400,
            httponly=True,
            samesite="strict",
            secure=settings.secure_cookies,
            path="/",
        )


_WORDS: TypeAdapter[SchoolWords] = TypeAdapter(SchoolWords)
_PAPER: TypeAdapter[Paper] = TypeAdapter(Paper)


def _me(actor: Actor) -> Me:
    return Me(
        name=actor.name,
        role=actor.role,
        rights=rights_of(actor),
        program=actor.program_name,
        class_code=actor.class_code,
        time_zone=actor.time_zone,
        words=_WORDS.validate_python(actor.words),
        paper=_PAPER.validate_python(actor.paper),
    )


@router.get("/setup", operation_id="getSetup")
def get_setup(session: Db) -> SetupState:
    """Whether this server still waits for its first director."""
    return SetupState(is_empty=accounts.is_empty(session))


@router.post("/setup", operation_id="createFirstDirector", status_code=201)
def create_first_director(
    body: FirstDirector, session: Db, comer: ComerIn, response: Response
) -> Me:
    """Make the program and its director, and sign in."""
    person = accounts.create_first_director(
        session,
        program=body.program,
        name=body.name,
        email=body.email,
        password=body.password,
        time_zone=body.time_zone,
    )
    comer = _with_device(comer)
    token = signing_in.begin_session(session, person, comer)
    _hand_over(response, token, comer)
    return _me(signing_in.actor_of(session, token))


@router.post("/session/director", operation_id="signInDirector")
def sign_in_director(
    body: DirectorSignIn, sessions: Sessions, comer: ComerIn, response: Response
) -> Me:
    """Sign a director in."""
    said = Credentials(body.password, email=body.email)
    return _signed_in(sessions, said, _with_device(comer), response)


@router.post("/session/student", operation_id="signInStudent")
def sign_in_student(
    body: StudentSignIn, sessions: Sessions, comer: ComerIn, response: Response
) -> Me:
    """Sign a student in."""
    said = Credentials(body.pin, class_code=body.class_code, name=body.name)
    return _signed_in(sessions, said, _with_device(comer), response)


def _signed_in(
    sessions: NewSession, said: Credentials, comer: SignInOrigin, response: Response
) -> Me:
    """A try is one unit and signing in another: a wrong secret takes no try back."""
    with unit_of_work(sessions) as session:
        attempt = signing_in.count_try(session, said, comer)
    hashed = attempt.check()
    with unit_of_work(sessions) as session:
        token = signing_in.sign_in(session, attempt, hashed, comer)
        me = _me(signing_in.actor_of(session, token))
    _hand_over(response, token, comer)
    return me


@router.get("/session", operation_id="getMe")
def get_me(actor: Member) -> Me:
    """The signed-in person."""
    return _me(actor)


@router.delete("/session", operation_id="signOut", status_code=204)
def sign_out(session: Db, response: Response, token: Token = None) -> None:
    """Sign out."""
    signing_in.sign_out(session, token)
    response.delete_cookie(COOKIE, path="/")


@router.post("/session/others/end", operation_id="endOtherSessions")
def end_other_sessions(actor: Member, session: Db, token: Token = None) -> EndedOut:
    """Sign oneself out everywhere else."""
    return EndedOut(ended=signing_in.end_other_sessions(session, actor, token))


@router.put("/account/password", operation_id="changePassword", status_code=204)
def change_password(
    body: PasswordIn, actor: AccountHolder, sessions: Sessions, comer: ComerIn, token: Token = None
) -> None:
    """Another password; every other session ends. Guesses at the old one count like sign-ins."""
    with unit_of_work(sessions) as session:
        said = accounts.credentials_of(session, actor, body.old)
        attempt = signing_in.count_try(session, said, comer)
    attempt.check()
    with unit_of_work(sessions) as session:
        accounts.change_password(session, actor, token, attempt, body.new)


@router.put("/program", operation_id="changeProgram")
def change_program(body: ProgramIn, actor: Registrar, session: Db) -> Me:
    """Say where the school is, whose words it uses, what paper it prints on."""
    change = accounts.ProgramChange(body.time_zone, body.words, body.paper)
    return _me(accounts.change_program(session, actor, change))


@router.post("/invitations", operation_id="invite", status_code=201)
def invite(actor: Registrar, session: Db, body: HelpIn | None = None) -> InvitationOut:
    """An invitation for somebody who helps; for a second director if nothing is said."""
    wanted = body or HelpIn(role=Role.DIRECTOR)
    help_ = accounts.Help(wanted.role, tuple(wanted.section_ids), wanted.student_id)
    made, token = accounts.invite(session, actor, help_)
    return InvitationOut(id=made, token=token, days=accounts.INVITED_FOR.days)


@router.delete("/invitations/{invitation_id}", operation_id="takeInvitationBack", status_code=204)
def take_invitation_back(invitation_id: UUID, actor: Registrar, session: Db) -> None:
    """End an invitation that nobody has used yet."""
    accounts.take_invitation_back(session, actor, invitation_id)


@router.get("/invitations/{token}", operation_id="getInvitation")
def get_invitation(token: Secret, session: Db) -> InvitedOut:
    """Program and role of an invitation."""
    program, role = accounts.invited_to(session, token)
    return InvitedOut(program=program.name, role=role)


@router.post("/invitations/{token}", operation_id="acceptInvitation", status_code=201)
def accept_invitation(
    token: Secret, body: AcceptIn, session: Db, comer: ComerIn, response: Response
) -> Me:
    """Make the account, and sign in."""
    person = accounts.accept(
        session, token, name=body.name, email=body.email, password=body.password
    )
    comer = _with_device(comer)
    session_token = signing_in.begin_session(session, person, comer)
    _hand_over(response, session_token, comer)
    return _me(signing_in.actor_of(session, session_token))
