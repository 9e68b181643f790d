"""Sorvek: reader, planner, simulator, floor clock and logbook for timed qualifier workouts."""
