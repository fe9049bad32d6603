"""What stands in files that are taken along, and what things are called that nobody named."""

from __future__ import annotations

from collections.abc import Mapping

#: Captions of a film, by the kind of mark; other kinds are called what they are.
CAPTIONS: Mapping[str, str] = {
    "onset": "behaviour begins",
    "offset": "behaviour ends",
    "reach": "hand moves",
    "other_behaviour": "other behaviour",
}
#: Of a marker that pays nothing, by its meaning.
OTHER_MARKERS: Mapping[str, str] = {
    "keep_going": "keep going marker",
    "no_reward": "no reward marker",
}
CAPTION = "{word}: {detail}"

NEW_BEHAVIOUR = "New behaviour"
#: The simulated camera's films; `day` and `time` as files are named.
SIMULATED_FILM = "Simulated camera {day} {time}.mp4"

#: Beside the files of an archive.
READ_ME = """This is everything of one Frequens workspace, in open formats.

learners.json            the animals
plans/NAME/              each version of each plan (frequens-plan JSON)
sessions/NAME/           a session: marks as frequens-session JSON, CSV and WebVTT; notes.json holds
                         notes, tags, trainer, what was chosen for its report and for the next
                         session; by-hand.json the counts of a session nobody filmed; history.json
                         every change that was ever made, in its order
films/                   the films as they came
frames/                  each film's frames' times, and the truth of a simulated one
rows.jsonl               all of it once more, row by row: from this `bring_back` makes the workspace
                         anew, in an empty one, here or elsewhere

People can be seen and heard in films: keep this file where only those may look who may.
"""
