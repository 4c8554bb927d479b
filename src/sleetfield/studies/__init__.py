"""Studies: work that can be kept, checked and repeated, in one text file."""

from .differences import RunDifferences, compare_runs
from .reading import schema_text
from .starter import new_study
from .study import Study, StudyRun, read_study
from .tasks import KINDS as TASKS

__all__ = ["TASKS", "RunDifferences", "Study", "StudyRun", "compare_runs", "new_study", "read_study", "schema_text"]
