"""Judgement: every check with its margin, its reason and what would cure it."""

from zarvik.core.checks.check_result import Change, CheckResult, worst
from zarvik.core.checks.judge import judge
from zarvik.core.common.sentences import Figure, Sentence

__all__ = ["Change", "CheckResult", "Figure", "Sentence", "judge", "worst"]
