"""The logbook: what the sessions of one behaviour come to over the weeks."""
