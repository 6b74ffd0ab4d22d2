"""Nine Bolt: plan, check, tune and prove a high-power electric dirt bike build."""

__version__ = "0.1.0"
