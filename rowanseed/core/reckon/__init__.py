"""The bench calculators: small sums of the trade, one module for each family.

Every figure here is common practice without a published source unless a docstring names one.
"""
