"""A study from a few words, its report, and the same with another model: how much hangs on the choice?

python examples/study.py
"""

import sleetfield as sl

study = sl.new_study(
    ["acetone", "1-butanol", "water"],
    T="30 to 90 degC in 2",
    P="1.1 bar",
    purpose="distillation",
    feed="0.16 acetone + 0.36 1-butanol + rest water",
    flow="25 kmol/h",
    title="Marlwick's solvent column",
)
study.save("column.toml", overwrite=True)  # a text file with remarks: change it, and run it again

done = study.run("column", overwrite=True)
print(done)

study.with_model("main", liquid="NRTL", vapor="virial").run("column-nrtl", overwrite=True)
found = sl.compare_runs("column", "column-nrtl")
print(found.notes[0])
largest = max((line for line in found.lines if line.off is not None), key=lambda line: abs(line.off))
print(f"Most of all, in {largest.task}: {largest.number} is {largest.first:.4g}, or {largest.second:.4g}.")
