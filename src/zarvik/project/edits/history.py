"""Undo and redo without limit, over every edit, with names."""

from __future__ import annotations

from dataclasses import dataclass

from zarvik.project.document.document import Project


@dataclass(frozen=True)
class Step:
    """One edit: its name and the document after it. `merge_key`: edits with the same key that
    follow each other without a seal are one step (a drag, typing in a field)."""

    label: str
    project: Project
    merge_key: str | None = None


class History:
    """The steps of one open document; knows nothing of files or windows."""

    def __init__(self, project: Project, label: str = "Opened") -> None:
        self._steps = [Step(label, project)]
        self._at = 0
        self._sealed = True

    @property
    def project(self) -> Project:
        """The document as it is now."""
        return self._steps[self._at].project

    @property
    def steps(self) -> tuple[Step, ...]:
        """All steps, the undone ones behind the present too."""
        return tuple(self._steps)

    @property
    def position(self) -> int:
        """Index of the present step."""
        return self._at

    def apply(self, label: str, project: Project, merge_key: str | None = None) -> bool:
        """Make `project` the present; False when it changes nothing."""
        if project == self.project:
            return False
        del self._steps[self._at + 1 :]
        step = Step(label, project, merge_key)
        last = self._steps[self._at]
        if not self._sealed and merge_key is not None and last.merge_key == merge_key:
            if self._at > 0 and project == self._steps[self._at - 1].project:
                # Back where it began: no step is left of it.
                del self._steps[self._at]
                self._at -= 1
                self._sealed = True
                return True
            self._steps[self._at] = step
        else:
            self._steps.append(step)
            self._at += 1
        self._sealed = False
        return True

    def seal(self) -> None:
        """End a run of merging edits: the next edit is a step of its own."""
        self._sealed = True

    @property
    def undo_label(self) -> str | None:
        """Name of the edit that undo would take back."""
        return self._steps[self._at].label if self._at > 0 else None

    @property
    def redo_label(self) -> str | None:
        """Name of the edit that redo would bring again."""
        return self._steps[self._at + 1].label if self._at + 1 < len(self._steps) else None

    def undo(self) -> bool:
        """Go one step back; False at the first."""
        self.seal()
        if self._at == 0:
            return False
        self._at -= 1
        return True

    def redo(self) -> bool:
        """Go one step forward; False at the last."""
        self.seal()
        if self._at + 1 >= len(self._steps):
            return False
        self._at += 1
        return True

    def go_to(self, position: int) -> bool:
        """Make the step at `position` the present one; False when it is already or is none."""
        self.seal()
        if position == self._at or not 0 <= position < len(self._steps):
            return False
        self._at = position
        return True
