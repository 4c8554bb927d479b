"""The Marlwick Works, a made-up site in a cold place, where all examples play."""
