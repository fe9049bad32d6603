"""Second looks: a session coded again by another, compared, and settled frame by frame."""
