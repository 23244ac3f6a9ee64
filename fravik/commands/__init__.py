"""What the commands do; what they are called and take is the command line's."""
