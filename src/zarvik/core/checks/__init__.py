"""Judgement: every check with its margin, its reason and what would cure it."""

from zarvik.core.checks.judge import judge
from zarvik.core.checks.verdict import Change, Verdict, worst
from zarvik.core.common.sentences import Figure, Sentence

__all__ = ["Change", "Figure", "Sentence", "Verdict", "judge", "worst"]
