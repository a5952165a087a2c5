"""What smoothing holds, and the volume it brings back."""
