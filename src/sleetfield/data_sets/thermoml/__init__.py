"""ThermoML, the open IUPAC standard for thermodynamic data in XML (Frenkel et al., Pure Appl. Chem. 78 (2006) 541-612).

What is read: compounds by CAS number, common name or formula; the kinds of `KINDS`; constraints, variables and properties with their standard uncertainties.
Sets of other properties, and of substances that the databank does not have, are skipped and named. Documents with a document type or entities are refused.
"""

from .reading import ThermoMLFile, read_thermoml
from .writing import write_thermoml

__all__ = ["ThermoMLFile", "read_thermoml", "write_thermoml"]
