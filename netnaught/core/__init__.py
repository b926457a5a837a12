"""The rules of the job: pure functions and frozen values. No I/O, no clock, no framework, no SQL.

money, statement, ledger     the objects
reconciliation, completion   the equations, and what stands in the way of sealing
alignment                    bank and books side by side, row by row
matching                     passes, proposals, questions
seal                         snapshot and chain
"""
