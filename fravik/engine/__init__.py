"""Runs the pipeline: which result needs which inputs, memory of results, and worker processes."""
