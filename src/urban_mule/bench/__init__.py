"""What a measuring session talks to: device interfaces and their simulated stand-ins."""
