"""Reading films: content, frame times, pictures and samples, each within its limits."""
