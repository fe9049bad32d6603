"""Films in and out: probing, frame times, review copies, stills, sound and the simulated camera."""
