"""Pictures of pages for whoever arranges and mends them."""

from uuid import UUID

import cv2
import numpy as np
from sqlalchemy.orm import Session

from crumb.services.access import Actor
from crumb.services.errors import NotFound
from crumb.services.pages.page_sets import get_page
from crumb.store.files import FileStore


def picture_key(session: Session, actor: Actor, page_id: UUID) -> str:
    """The key of a page's picture.

    Raises:
        NotFound: no such page, or it was not read yet.
    """
    page = get_page(session, actor, page_id)
    if not page.picture:
        raise NotFound("This page has no picture yet.")
    return page.picture


def picture(files: FileStore, key: str, width: int) -> bytes:
    """A page as PNG, no wider than asked for.

    Raises:
        NotFound: its file is gone.
    """
    try:
        data = files.load(key)
    except FileNotFoundError as error:
        raise NotFound("This page has no picture any more.") from error
    grey = cv2.imdecode(np.frombuffer(data, dtype=np.uint8), cv2.IMREAD_GRAYSCALE)
    if grey is None or grey.shape[1] <= width:
        return data
    share = width / grey.shape[1]
    small = cv2.resize(grey, None, fx=share, fy=share, interpolation=cv2.INTER_AREA)
    _, made = cv2.imencode(".png", small)
    return made.tobytes()
