"""Thrust, speed and endurance."""
