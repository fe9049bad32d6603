"""What is said of a plan, by the code of each remark: its title, and what to do about it."""

from __future__ import annotations

from collections.abc import Mapping

#: Where nobody gave the learner a name.
NAMELESS = "This learner"
#: What a step raises.
DIMENSIONS: Mapping[str, str] = {
    "topography": "form",
    "precision": "precision",
    "speed": "speed",
    "duration": "duration",
    "distance": "distance",
    "distraction": "distraction",
}
BETWEEN_DIMENSIONS = " and "

REMARKS: Mapping[str, tuple[str, str]] = {
    "no_goal": (
        "No end picture yet.",
        "Say what somebody would see on the film when it is finished: the behaviour, where, and on "
        "what signal.",
    ),
    "few_steps": (
        "Hardly a flight of steps.",
        "Begin with something the animal already does, and put the steps between it and the goal "
        "in reach of each other.",
    ),
    "no_criterion": (
        "Nobody could judge this yet.",
        "Write when a rep fits, so that another person would judge the film the same.",
    ),
    "not_on_film": (
        "Film cannot show this.",
        "“{word}” is read into the animal. Write what it does: which part of the body, where, for "
        "how long.",
    ),
    "two_dimensions": (
        "Two things at once.",
        "This step raises {raised}. Raise one at a time: let one of them count first.",
    ),
    "two_conditions": (
        "Perhaps two things at once.",
        "“{criterion}” asks for two things. If both are new, let one of them count first.",
    ),
    "same_title": (
        "Two steps have this name.",
        "On the ladder and in the logbook they could not be told apart.",
    ),
    "no_fallback": (
        "No way back.",
        "Say which easier step to return to when this one fails; the plan is made calmly now, not "
        "in the middle of a bad session.",
    ),
    "fallback_not_easier": (
        "The way back leads up.",
        "The step to return to comes later in the plan than this one.",
    ),
    "lure_kept": (
        "Food in the hand for too long.",
        "The plan has food in the hand for {reps} reps; {most} or fewer are common practice. "
        "A lure kept longer becomes part of the picture.",
    ),
    "lure_kept.no_limit": (
        "Food in the hand for too long.",
        "The plan sets no limit to food in the hand; {most} reps or fewer are common practice. "
        "A lure kept longer becomes part of the picture.",
    ),
    "lure_not_faded": (
        "The lure has nowhere to fade to.",
        "Food in the hand, then an empty hand, then a smaller gesture, then the cue.",
    ),
    "no_session_cap": (
        "No end to a session.",
        "First shaping sessions are 1 to 2 minutes, none over 5 (common practice).",
    ),
    "long_session": (
        "Longer than common practice.",
        "{minutes} minutes of work at a stretch; {most} are the most in common practice. "
        "Blocks of 2 to 3 minutes with breaks teach more.",
    ),
    "no_rep_cap": (
        "No limit to the reps.",
        "A limit lets the session end on a success instead of on a tired rep.",
    ),
    "no_rule": (
        "No rule for going on.",
        "Choose one of the schools, so that the step changes by what happened and not by hope.",
    ),
    "no_terminal_marker": (
        "No marker that pays.",
        "Name the click or word that says: that was it, your reward is coming.",
    ),
    "no_keep_going": (
        "Nothing says “stay, more is coming”.",
        "After the marker the animal is to stay; that needs a keep-going marker of its own.",
    ),
    "no_reward_marker_early": (
        "Only for what is known.",
        "A mild no-reward marker helps only once the behaviour is known; while it is being shaped, "
        "say nothing and wait.",
    ),
    "cue_early": (
        "The cue comes before the behaviour is sure.",
        "“{cue}” would name what is not finished: “{step}” still changes its form. A cue said over "
        "a half-made behaviour names the half.",
    ),
    "answers_no_cue": (
        "Nothing is asked.",
        "This step is about answering its cue, and the plan names none.",
    ),
    "let_go_by_marker": (
        "The marker lets it go.",
        "The plan says that the marker ends the rep; this step ends when you let go. Say that "
        "after the marker it stays.",
    ),
    "part_of_one": (
        "A chain has at least two parts.",
        "With one part it is a step like any other.",
    ),
    "help_not_planned": (
        "Help the plan does not name.",
        "This step allows {help}; the plan's help to fade does not.",
    ),
    "floor_impossible": (
        "So often it cannot be paid.",
        "{asked} rewards a minute are asked for; with a hold of {hold_s} s at most "
        "{possible:.1f} are possible. The judgement looks at what is possible.",
    ),
    "floor_impossible.own": (
        "So often it cannot be paid.",
        "{asked} rewards a minute are asked for; with a hold of {hold_s} s at most "
        "{possible:.1f} are possible. Ask for less.",
    ),
    "nothing_measured": (
        "Nothing to measure by.",
        "This school pays what is better than before: give a step a number and an aim, else it can "
        "never say raise.",
    ),
    "ease_to_code": (
        "Ease has to be written down.",
        "This school looks at signs of strain and at leaving the work: mark them at the bench, or "
        "count them by hand, also where there were none.",
    ),
    "ladder_unmeasured": (
        "No step measures it.",
        "Give a step the number “{ladder}”, so that its reps can be laid beside the rungs.",
    ),
    "stage_backwards": (
        "Its most is less than its least.",
        "“{stage}” cannot end before it may.",
    ),
    "chain_of_one": (
        "A chain has at least two parts.",
        "Name the parts in the order in which they are done.",
    ),
    "food": (
        "Food.",
        "Counted into the day's ration: at most a tenth of the day's energy in treats (common "
        "practice); mind allergies and choking sizes.",
    ),
    "short_sessions": (
        "Short sessions.",
        "Water and shade near by; stop at heavy breathing, lameness or reluctance, and end on a "
        "success.",
    ),
    "speed_height_turning": (
        "Speed, height or turning.",
        "A floor that does not slip, warmed up first, and stop at the first uneven step.",
    ),
    "jumping": (
        "Jumping.",
        "A bar begins at about half its final height. Growing animals do not jump high or repeat "
        "impacts: full heights only after the veterinarian agrees, by the sport's own rules.",
    ),
    "raised_platform": (
        "Ramps, stands and platforms.",
        "Stable and wide, a hand close by, and no jumping off.",
    ),
    "worn_or_following": (
        "Things worn, or that touch or follow.",
        "The animal moves into it, never the reverse; never left alone in it; fit checked for "
        "breath, drink and pant. Two to three weeks a stage.",
    ),
    "ropes": (
        "Ropes.",
        "Hang a rope so that it lets go under a sharp pull, mind horns and halters, and stay "
        "within reach.",
    ),
    "hoof_or_claw": (
        "Hoof and claw work.",
        "Beside someone experienced; feet and exits free, and let go before the animal has to ask.",
    ),
    "objects_in_mouth": (
        "Things in the mouth.",
        "Too large to swallow, nothing that splinters, and traded for, not taken.",
    ),
    "large_animal": (
        "A large animal.",
        "Mind feet and exits; wear a helmet; work beside someone experienced.",
    ),
    "children": (
        "Children.",
        "Under an adult's eyes all the while, from about ten years on (common practice).",
    ),
    "growing": (
        "{name} is still growing.",
        "Fewer reps, no repeated impacts, no full heights: ask the veterinarian first.",
    ),
    "old": (
        "{name} is old.",
        "Fewer reps, longer breaks, soft ground: ask the veterinarian first.",
    ),
    "pregnant": (
        "{name} is pregnant.",
        "Short blocks; ask the veterinarian before work with jumping, pulling or turning.",
    ),
    "overweight": (
        "{name} is overweight.",
        "Fewer reps on hard ground, and every reward out of the day's ration.",
    ),
    "injured": (
        "{name} has been hurt.",
        "Ask the veterinarian first; stop at any lameness or reluctance.",
    ),
    "ill": ("{name} is ill.", "Ask the veterinarian before training; rest is work enough."),
    "timid": (
        "{name} is timid.",
        "Most rewards away from what frightens: 75 % off, 25 % on. The animal moves into it, "
        "never the reverse.",
    ),
    "bites_or_guards": (
        "{name} bites or guards.",
        "Keep distance and do not go on alone: work with a veterinarian and a qualified behaviour "
        "professional. A muzzle is trained before it is needed.",
    ),
    "food_allergy": (
        "{name} does not stand every food.",
        "Rewards from the list that is safe, and in sizes that do not choke.",
    ),
}
