"""What every sheet of paper says of itself: of which build, from which day, of which revision, which page of how many.

Two sheets of the same revision show the same design: who finds one on the bench sees whether it still holds."""

from __future__ import annotations

import datetime
import hashlib
import os
from dataclasses import dataclass

from zarvik.project.document.document import Project
from zarvik.project.language.language import tr_format
from zarvik.project.language.plain import visible

# Parts of a document that change nothing of what is made: what is ticked off, kept beside it, or shown otherwise
BESIDE = frozenset({"variants", "joints", "adopted", "decision", "note", "units", "assumed", "invented", "pieces_cut"})


@dataclass(frozen=True)
class PaperStamp:
    """Name of the `build`, `day` as year-month-day, `revision` of the design."""

    build: str
    day: str
    revision: str

    def words(self, page: int, pages: int) -> str:
        """Day, revision and number of a page."""
        return tr_format("{0} · revision {1} · page {2} of {3}", self.day, self.revision, page, pages)


def revision(project: Project) -> str:
    """Six letters and digits that are the same for the same design, and others as soon as anything of it is changed."""
    text = project.model_dump_json(exclude=set(BESIDE))
    return hashlib.sha256(text.encode("utf-8")).hexdigest()[:6]


def today() -> str:
    """The day, year-month-day; that of `SOURCE_DATE_EPOCH` (seconds, UTC) where it is set, so that a file can be made the same again."""
    fixed = os.environ.get("SOURCE_DATE_EPOCH", "")
    if fixed.isdigit():
        return datetime.datetime.fromtimestamp(int(fixed), datetime.UTC).date().isoformat()
    return datetime.datetime.now().astimezone().date().isoformat()


def stamp(project: Project) -> PaperStamp:
    """The stamp of a document, today."""
    return PaperStamp(visible(project.name), today(), revision(project))
