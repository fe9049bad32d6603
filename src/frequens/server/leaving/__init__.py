"""Going: everything as one file of open formats, and removal that leaves nothing behind."""
