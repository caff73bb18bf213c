"""The address of a step, and of what is known of it."""

from __future__ import annotations

import re
from dataclasses import dataclass

#: What a job may be called in keys; made once, never reused or renamed.
JOB_KEY = re.compile(r"j[0-9a-z]{1,12}")


@dataclass(frozen=True)
class StepId:
    """The address of a step, and of what is known of it: its part, its job there, its key within the job.

    The first job of a part has the key ``""``. Nobody else makes or reads the texts.

    >>> StepId("wing", "j2", "fill-1/spread").key, StepId("wing", "", "prepare").in_part
    ('wing:j2:fill-1/spread', 'prepare')
    >>> StepId.of("wing:j2:fill-1/spread").job, StepId.of("wing:turn/1/upper side up").job
    ('j2', '')
    """

    part: str
    job: str
    local: str

    @property
    def in_part(self) -> str:
        """Its key among those of its part.

        >>> StepId("wing", "j2", "coat").in_part, StepId("wing", "", "coat").in_part
        ('j2:coat', 'coat')
        """
        return f"{self.job}:{self.local}" if self.job else self.local

    @property
    def key(self) -> str:
        """Its key among those of all parts.

        >>> StepId("wing", "j2", "coat").key
        'wing:j2:coat'
        """
        return f"{self.part}:{self.in_part}"

    @classmethod
    def of(cls, key: str) -> StepId:
        """What a key among those of all parts says.

        >>> StepId.of("wing:j2:coat").job, StepId.of("wing:coat").job
        ('j2', '')
        """
        part, _, rest = key.partition(":")
        return cls.within(part, rest)

    @classmethod
    def within(cls, part: str, in_part: str) -> StepId:
        """What a key among those of a part says.

        >>> StepId.within("wing", "j2:coat").local
        'coat'
        """
        job, colon, local = in_part.partition(":")
        return cls(part, job, local) if colon and JOB_KEY.fullmatch(job) else cls(part, "", in_part)
