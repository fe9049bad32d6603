"""Made-up animals and a made-up camera. Nothing real imports it: a setting names the camera."""
