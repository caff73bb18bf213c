"""The rules of the job: plain values in, plain values out."""
