"""Why the server does not do what it was asked for, and what helps."""

from __future__ import annotations

# -- whoever asks ----------------------------------------------------------------------

TOO_MANY_TRIES = "Too many tries. Wait a minute, then try again."
NOT_ALLOWED = "Your place in this workspace does not allow that. Ask its owner."
LOGGED_OUT = "You are logged out. Log in again; nothing is lost."
WRONG_PASSWORD = "The password is not right. Nothing was removed."
WRONG_FIRST_CODE = "This is not the code the server said when it started, or it was used already."
WRONG_PHONE_CODE = "This code does not hold (any more): make a new one on the large screen."
NOT_ON_THE_NETWORK = "This server is not on the local network."
LAST_OWNER = "Somebody has to own the workspace. Make another member its owner first."
NO_INVITATION = "This invitation does not hold (any more). Ask whoever sent it for a new one."
INVITATIONS_OPEN = "{most} invitations are open already."

# -- the house -------------------------------------------------------------------------

HOUSE_BUSY = "The house is busy. It is tried again in a moment; nothing is lost."
HOUSE_FULL = (
    "The disk is full: nothing can be saved. Make room on it; what waits is kept in the browser."
)
HOUSE_FAILED = (
    "Frequens itself failed on this. It is written down for whoever looks after the server."
)
NOT_BUILT = "The front end is not built yet: run `make demo`."
STORE_SILENT = (
    "The store of the films does not answer. It is tried again in a moment; nothing is lost."
)
STORE_LACKS = "The store of the films does not have what it was given. Tell whoever looks after it."
NO_ROOM_TO_FETCH = "There is no room here to fetch this film. Make room first."

# -- what is sent ----------------------------------------------------------------------

LARGER_THAN_KB = "larger than {kb} kB"
LARGER_THAN_SUCH = "larger than such a request can be"
FAULTS_MORE = "and {more} faults more"
NOTHING_CAME = "Nothing came any more. Send it again."
TOO_SLOW = "This came too slowly. Send it again."
SENDING_BROKE_OFF = "The upload broke off. Send it again."
NO_ROOM = "The disk is full: there is no room for this. Make room, then send it again."
FILE_TOO_LARGE = "The file is larger than {most_gb:.0f} GB, the limit here."
TUS_VERSION = "Send the header Tus-Resumable: {version}."
TUS_PIECE = "A piece is {type}."
TUS_METADATA = "Upload-Metadata {name}: no text in base 64."
NO_SUCH_UPLOAD = "No such upload: it was given up, or is somebody else's."
UPLOAD_GIVEN_UP = "This upload was given up. Begin it anew."
OVERTAKEN = "Another connection goes on with this film."
NEXT_PIECE = "The next piece begins at {size}, not at {offset}."
MORE_THAN_SAID = "This is more than the film was said to have."
PIECE_BROKE_OFF = "The piece broke off. Go on where it is."

# -- films and sessions ----------------------------------------------------------------

CODED_ALREADY = "This film is coded already: only one without marks can join."
FILM_GONE = "The film itself is not here any more. Upload it again."
BEING_TAKEN_IN = "It is being taken in. Wait for that, or stop it first."
MARKED_ALREADY = "Marks stand on its frames. Take them out first, or upload the film once more."
ONLY_COPY = "Without the film itself its copy could not be made again."
NOT_MEASURABLE = "The marks of this session cannot be measured."
ID_TAKEN = "There is another session of this id."
NO_PLACE_IN_PLAN = "The plan has changed: there is no such place in it."
NO_SCHOOL_OR_STEP = "no such school or step: {name}"
DRILL_NOT_DONE = "This drill was not done to its end."
TOO_MUCH_SOUND = "This is more than {most_s} seconds of sound. Drill for a shorter time."

# -- second looks ----------------------------------------------------------------------

CODING_BLIND = (
    "You are coding this session a second time. Its first marks are shown when both of you are "
    "done."
)
STILL_BLIND = "This second look is shown when both of you are done."
BEING_SEEN_AGAIN = "Somebody is coding this session a second time. Give up that second look first."
SECOND_DONE = "This second coding is done. Its marks do not change any more."
NO_FILM_TO_CODE = "Without a film nobody can code it again."
NOTHING_MARKED_FIRST = "Nothing is marked yet. Code it first; then somebody else can."
LOOK_UNDER_WAY = "A second look at it is under way already."
BOTH_SEEN = "Both of you have seen both. Ask for another second look instead."
NOTHING_MARKED = "Nothing is marked in it yet."
COMPARED_LATER = "They are compared when both of you are done."
LOOK_FILM_GONE = "A film it was coded on was removed: the two cannot be compared any more."
NO_SUCH_PAIR = "There is no such pair of marks in this second look."
NOT_IN_FIRST = "The first coding has no such mark."
NOT_IN_SECOND = "The second coding has no such mark."
WHICH_FRAME = "Say on which frame the mark is to stand."
ONLY_SECOND_CODER = "Only who codes it a second time says when that is done, and nobody else."
LOOK_STAYS = "It is part of how the session was coded, and stays."

# -- archives --------------------------------------------------------------------------

NO_WHOLE_ARCHIVE = "This is no whole archive of a workspace."
NO_ARCHIVE = "This is no archive of a workspace."
ARCHIVE_HERE_ALREADY = (
    "Some of this is here already, perhaps in another workspace. Remove it there first."
)
ARCHIVE_VERSION = "This archive is of version {version}; {known} can be read."
NOT_EMPTY = "{workspace} is not empty. Bring it back into a new workspace."
ARCHIVE_PEOPLE = (
    "{names} did some of this and has no account in {workspace}. Make one first (add_trainer), or "
    "leave the names out."
)
ARCHIVE_LINE = "{file}, line {line}: {fault}"
ARCHIVE_NO_OBJECT = "{file}: a line is not an object"
ARCHIVE_ROW = "unknown row {kind}"
ARCHIVE_LACKS = "{name}: not in this archive"
ARCHIVE_TIMES = "{film}: its frames' times cannot be read"
ARCHIVE_FILM = "{film}: not the film it was"
