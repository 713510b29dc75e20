"""What everything rests on: frozen data, exact rates and time, errors, wording, files. Imports nothing of ours."""
