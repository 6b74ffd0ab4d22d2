"""Photos of a build: kept, looked at, deleted."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Response, UploadFile

from ninebolt.api.models import PROBLEMS
from ninebolt.api.routes_builds import HouseDep
from ninebolt.services import pictures
from ninebolt.store.pictures import PictureRow

router = APIRouter(prefix="/api/builds/{build_id}/pictures", tags=["pictures"], responses=PROBLEMS)


@router.get("")
def get_pictures(house: HouseDep, build_id: str) -> list[PictureRow]:
    """Photos without their bytes, oldest first."""
    return pictures.pictures(house, build_id)


@router.post("", status_code=201)
def add_picture(
    house: HouseDep,
    build_id: str,
    file: UploadFile,
    place: Annotated[str, Query(max_length=80)],
) -> list[PictureRow]:
    """Keep a photo; place: gate: and the gate's key."""
    return pictures.add(house, build_id, place, file.filename or "photo", file.file.read())


@router.get("/{picture_id}", response_class=Response)
def get_picture(house: HouseDep, build_id: str, picture_id: str) -> Response:
    """The photo as it came."""
    media, data = pictures.picture(house, build_id, picture_id)
    return Response(data, media_type=media, headers={"cache-control": "private, max-age=86400"})


@router.delete("/{picture_id}")
def remove_picture(house: HouseDep, build_id: str, picture_id: str) -> list[PictureRow]:
    """Delete a photo."""
    return pictures.remove(house, build_id, picture_id)
