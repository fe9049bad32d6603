"""From marks to attempts: which marker, which reward and which help belong to which."""
