"""Setting up, signing in and out."""

from fastapi import APIRouter, Request, Response

from crumb.api.deps import COOKIE, Db, Member, Token
from crumb.api.schemas import DirectorSignIn, FirstDirector, Me, SetupState, StudentSignIn
from crumb.services import signing_in
from crumb.services.who import Who
from crumb.settings import get_settings

router = APIRouter(tags=["session"])


def _place(request: Request) -> str:
    return request.client.host if request.client else "unknown"


def _hand_over(response: Response, token: str) -> None:
    settings = get_settings()
    response.set_cookie(
        COOKIE,
        token,
        max_age=settings.session_days * 86_400,
        httponly=True,
        samesite="strict",
        secure=settings.secure_cookies,
        path="/",
    )


def _me(who: Who) -> Me:
    return Me(name=who.name, role=who.role, program=who.program_name, class_code=who.class_code)


@router.get("/setup", operation_id="getSetup")
def get_setup(session: Db) -> SetupState:
    """Whether this server still waits for its first director."""
    return SetupState(is_empty=signing_in.is_empty(session))


@router.post("/setup", operation_id="createFirstDirector", status_code=201)
def create_first_director(
    body: FirstDirector, session: Db, request: Request, response: Response
) -> Me:
    """Make the program and its director, and sign in."""
    signing_in.create_first_director(
        session, program=body.program, name=body.name, email=body.email, password=body.password
    )
    token = signing_in.sign_in_director(
        session, email=body.email, password=body.password, place=_place(request)
    )
    _hand_over(response, token)
    return _me(signing_in.who_is(session, token))


@router.post("/session/director", operation_id="signInDirector")
def sign_in_director(body: DirectorSignIn, session: Db, request: Request, response: Response) -> Me:
    """Sign a director in."""
    token = signing_in.sign_in_director(
        session, email=body.email, password=body.password, place=_place(request)
    )
    _hand_over(response, token)
    return _me(signing_in.who_is(session, token))


@router.post("/session/student", operation_id="signInStudent")
def sign_in_student(body: StudentSignIn, session: Db, request: Request, response: Response) -> Me:
    """Sign a student in."""
    token = signing_in.sign_in_student(
        session, class_code=body.class_code, name=body.name, pin=body.pin, place=_place(request)
    )
    _hand_over(response, token)
    return _me(signing_in.who_is(session, token))


@router.get("/session", operation_id="getMe")
def get_me(who: Member) -> Me:
    """Who is signed in."""
    return _me(who)


@router.delete("/session", operation_id="signOut", status_code=204)
def sign_out(session: Db, response: Response, token: Token = None) -> None:
    """Sign out."""
    signing_in.sign_out(session, token)
    response.delete_cookie(COOKIE, path="/")
