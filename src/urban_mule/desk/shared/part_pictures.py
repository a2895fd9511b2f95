"""Pictures that a part of the library brings into the project, and takes out of it."""

from __future__ import annotations

from collections.abc import Iterable

from urban_mule.core.motor.printed import CURVES
from urban_mule.desk.model.scope import Scope
from urban_mule.desk.shared.photograph import MEDIA_TYPE
from urban_mule.store.library.parts import Part
from urban_mule.store.library.pictures import keep_picture, kept_picture, pictures_of
from urban_mule.store.text_files import BadFile


def bring_pictures(session: Scope, motor: object) -> None:
    """Put the pictures of a motor that was taken out of the library into the project, as far as they are kept."""
    for curve in getattr(motor, CURVES, None) or ():
        try:
            if curve.picture and session.saving.file.attachment(curve.picture) is None:
                data = kept_picture(curve.picture)
                if data is not None:
                    session.saving.attach(curve.picture, MEDIA_TYPE, data)
        except BadFile as why:
            session.told.emit(str(why))


def keep_pictures(session: Scope, parts: Iterable[Part]) -> None:
    """Keep the pictures of parts that go into the library. Raises BadFile."""
    for part in parts:
        for name in pictures_of(part):
            data = session.saving.file.attachment(name)
            if data is not None:
                keep_picture(name, data)
