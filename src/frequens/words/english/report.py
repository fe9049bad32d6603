"""What a session's report says: on its page, in its PDF, in its plots and under its pictures."""

from __future__ import annotations

from collections.abc import Mapping

#: The language's own code (BCP 47).
LANGUAGE = "en"

# -- the page itself -------------------------------------------------------------------

PAGE_TITLE = "{title} · report"
#: Over each part.
HEADINGS: Mapping[str, str] = {
    "splits": "The steps of this session",
    "timing": "The marker and the reward",
    "rate": "The rate",
    "ways": "What else there was",
    "plan": "The plan",
    "pictures": "From the film",
    "notes": "Notes",
    "coming": "The next session",
    "cautions": "To keep in mind",
    "method": "How this was measured",
}
SPLIT_HEADS = (
    "Step",
    "Time",
    "Fits",
    "could be",
    "Longest run",
    "Rewards a minute",
    "Marker",
    "Reward",
)
#: Of pages; the first stands for the number, the second for how many there are.
PAGES = "1 of 1"
BETWEEN_WAYS, BETWEEN_FACTS = " or ", ", "

# -- whose session it was --------------------------------------------------------------

NAMELESS = "A training session"
#: Facts under the title, in this order; those that are known.
FACTS: Mapping[str, str] = {
    "day": "{day}",
    "trainer": "trained by {trainer}",
    "handler": "handled by {handler}",
    "place": "{place}",
    "training_time_s": "{training_time_s:clock} of training",
    "attempts": "{attempts:rep|reps}",
}
READER = "For {reader}"
DAY = "{day} {month} {year}"
MONTHS = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)

# -- the judgement and the plan --------------------------------------------------------

RESTS = "It rests on {judged:judged rep|judged reps} in {sessions:session|sessions}{could}."
RESTS_COULD = "; the true share could be {between}"
BETWEEN = "{low:percent} to {high:percent}"
WAYS: Mapping[str, str] = {
    "free_shaping": "free shaping",
    "capturing": "capturing",
    "luring": "luring, then fading the lure",
    "targeting": "targeting",
}
TAUGHT: Mapping[str, str] = {
    "unmarked": "Taught by {way}.",
    "marked": "Taught by {way}, marked with {markers}.",
}
#: The rules of the schools for moving on.
RULES: Mapping[str, str] = {
    "run": "Up after {need} in a row that fit; back after {miss} misses in a row.",
    "run.no_way_back": "Up after {need} in a row that fit.",
    "share": "Up when {raise:percent} of the last {window} fit; back below {lower:percent}.",
    "block": ("In blocks of {size}: up at {raise_at} that fit, back at {lower_at} or fewer."),
    "percentile": (
        "The criterion moves with the animal: above what about {above:percent} of its last "
        "{window} reps reached."
    ),
    "comfort": "Up after {clean_sessions} sessions in a row at ease.",
}
LIMITS: Mapping[str, str] = {"minutes": "{minutes} min", "reps": "{reps:rep|reps}"}
LIMITED = "A session is at most {limits}."
#: When the marker should fall at a step.
MARK_AT: Mapping[str, str] = {
    "onset": "when it begins",
    "offset": "when it is over",
    "hold": "after {hold_s} s",
}
MARK = "mark {when}"
WORKED = "Worked in this session."

# -- steps, marker, reward and rate ----------------------------------------------------

NO_STEP = "No step named"
FITS = "{met} of {judged}"
NOT_MARKED = "No rep was marked."
#: Where the markers fell, by whether the middle one lies before or after.
TIMING: Mapping[str, str] = {
    side: f"The marker fell {{median:lag}} {side} {{instant}}, in the middle of "
    "{n:marked rep|marked reps}{could}: {early} early, {on_time} on time, {late} late{over}. "
    "Each ring is a marker, a filled one late or after it was over."
    for side in ("before", "after")
}
INSTANTS: Mapping[str, str] = {
    "onset": "the behaviour began",
    "wanted": "the instant the plan wants",
}
OVER = ", {behaviour_over} after the behaviour was over"
MIDDLE_COULD: Mapping[str, str] = {
    "known": " (could be {low:latency} to {high:latency})",
    "too_few": " (too few to say how far the true middle could lie)",
}
REWARD = (
    "The reward followed {median:lag} after the marker, in the middle{could}; {over_limit} took "
    "too long."
)
UNREWARDED = "{unrewarded:marker|markers} brought no reward: a promise not kept."
HAND = "The hand moved before the marker on {before_marker} of {n}."
NO_RATE = "No training time, no rate."
PAY = (
    "{per_min:.1f} rewards a minute; taught like this, the true middle could be {low:.1f} to "
    "{high:.1f}."
)
LONGEST = "The longest wait for a reward was {longest_s:.0f} s."
SUCCESS = "{met} of {judged} judged reps fit ({share:percent}; could be {between})."

# -- how it was, and what else there was -----------------------------------------------

#: By severity.
WORST: Mapping[int, str] = {1: "slight", 2: "marked", 3: "severe"}
SIGN = "{count:sign|signs}: {label} ({worst} at worst)."
NOT_NAMED = "not named"
LEFT = "It left the work {count:time|times}, for {away_s:.0f} s in all."
STAY: Mapping[str, str] = {
    "paid": "{step}: {kept} of {of} stayed until let go, paid {pays:.1f} times in place.",
    "unpaid": "{step}: {kept} of {of} stayed until let go.",
}
RETURNS = "Sent away {n:time|times}; half were back within {median_s:.1f} s."
CUE = "{cue}: {hits} of {presentations} answered{wrong}{again}."
CUE_NAMED, CUE_NAMELESS = "“{label}”", "The cue"
WRONG = ", {wrong} with something else"
AGAIN = "; said more than once {again:time|times}"
UNASKED = "While nothing was asked it came in {alarms} of {windows:wait|waits}."
CHAIN = "{step}: {done} of {of} done to the end."
TOUCH = "{label}: {n:time|times}, {paid} with food after it{food_first}."
FOOD_FIRST = "; food came first {food_first:time|times}"
VALUES: Mapping[str, str] = {
    "aim": (
        "{step}: {median} in the middle of {n:measured rep|measured reps}, {reached} of {of} at "
        "the aim."
    ),
    "no_aim": "{step}: {median} in the middle of {n:measured rep|measured reps}.",
}

# -- notes, pictures and plots ---------------------------------------------------------

#: Parts of the findings a note may stand beside, as the report calls them.
PARTS: Mapping[str, str] = {
    "splits": "steps",
    "marker_latency_s": "marker",
    "reward_latency_s": "reward",
    "rates": "rate",
    "cumulative": "rate",
    "success": "what fits",
    "reach_lead_s": "hand",
    "pause_s": "pauses",
    "held_s": "how long it lasted",
    "signs": "how it was",
    "returns": "coming back",
    "stays": "staying",
    "chains": "the chain",
    "exposures": "touch and food",
    "values": "what was measured",
    "bouts": "work and breaks",
    "offered": "what else it did",
    "placement": "placement",
    "prompts": "help",
    "stimulus_control": "cue",
}
#: Under a picture of where a rep begins, by whether it fits.
ONSET: Mapping[bool | None, str] = {
    True: "Rep {number} begins, {onset_s:instant}, fits",
    False: "Rep {number} begins, {onset_s:instant}, not yet",
    None: "Rep {number} begins, {onset_s:instant}",
}
MARKER = "Marker of rep {number}, {latency_s:latency} from where it begins{when}{over}"
MARKER_WHEN: Mapping[str, str] = {"early": ", early", "late": ", late"}
MARKER_OVER = ", the behaviour is over"
PLOTS: Mapping[str, str] = {
    "timing": "{n} markers by their distance from the onset",
    "rate": "Rewards a minute through the session",
}
ZERO, TICK = "begins", "{s:signed} s"

# -- how it was measured ---------------------------------------------------------------

METHOD: Mapping[str, str] = {
    "film": "Behaviour, marker and reward were marked on single frames of the film.",
    "hand": "Behaviour, marker and reward were marked by hand.",
    "frames": (
        "A frame shows only that something happened since the frame before: each marker's "
        "distance is therefore sure to ±{within_ms} ms (95 %)."
    ),
    "few": (
        "With {attempts:rep|reps}, “could be” gives where the truth may lie (95 % intervals: "
        "shares by Wilson, rates by how evenly the rewards came, middles by order statistics)."
    ),
    "judged": (
        "“Fits” is the reviewer's judgement against the criterion in the plan. Nothing here "
        "replaces a veterinarian's or a qualified behaviour professional's examination."
    ),
}
