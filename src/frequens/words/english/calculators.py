"""The common practice each calculator follows, and what to be careful of."""

CLOCK = (
    "Things fall first at 3 and 9 o'clock, then 8 and 4, then 7 and 5, then 6, behind the animal; "
    "vary one thing at a time."
)
CLOCK_CAUTION = (
    "What falls behind an animal may frighten it: begin far and quiet, and go back a stage at "
    "the first sign of strain."
)
SIDES = "Begin with the easy side, 3 to 5 reps a side, play between; more reps on the weak one."
SIDES_CAUTION = (
    "A side that stays weak or is refused may hurt: ask the veterinarian before more reps."
)

DISTANCES = (
    "A first distance is two strides for a small animal, three for a medium one and five for a "
    "large one; it grows by one stride at a time."
)
BARS = "A bar starts at about half its final height and goes up 10 cm (4 in) at a time over weeks."
JUMPS = "A long jump spans twice its height."
GROWING = (
    "Growing animals do not jump high or repeat impacts: full heights only after the "
    "veterinarian agrees, and by the rules of the sport's body. Non-slip floor."
)
ONE_AT_A_TIME = "Raise one criterion at a time, and pay the step below until the new one is sure."
BEFORE_IT_LEAVES = (
    "Duration is built by paying before the animal leaves; now and then an easier one in between."
)

MIX = "A timid learner gets most rewards away from the scary thing: 75 % off, 25 % on."
MIX_CAUTION = "The animal moves into what frightens it, never the reverse."
COUNT = "Count food into the day's ration: at most a tenth of the day's energy in treats."
COUNT_CAUTION = (
    "Mind allergies and choking sizes; old, ill or overweight animals: ask the vet first."
)

DOSES = (
    "A first shaping session is 1 to 2 min, none over 5 min; blocks of 2 to 3 min with play, "
    "toilet or sniffing breaks; end on a success."
)
DOSES_CAUTION = (
    "Water and shade; stop at heavy breathing, lameness or reluctance. Old, young, pregnant, "
    "overweight or injured animals: fewer reps, ask the veterinarian first."
)

CUE = (
    "New cue first, a clear pause, then the old signal; never both at once. Then fade the old one."
)
CUE_CAUTION = (
    "A cue said over a half-made behaviour names the half: wait until the behaviour is sure."
)
LURE = (
    "Lures go within a handful of reps (five or fewer): food in hand, empty hand, smaller gesture."
)
LURE_CAUTION = "A lure kept too long becomes part of the picture: without it nothing happens."
CHAIN = "Train the parts alone, then join them, forward or from the end; find the link that breaks."
CHAIN_CAUTION = "When a chain breaks, go back to the part that broke, not to the start of it all."
