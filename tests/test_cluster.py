"""Batches on a cluster's executor: dask.distributed with workers of its own on this machine."""

import numpy as np
import pytest

import sleetfield as sl

distributed = pytest.importorskip("distributed")

GAS = sl.System(["methane", "propane", "n-heptane"], eos="PR")
Z = [0.7, 0.2, 0.1]


@pytest.fixture(scope="module")
def executor(tmp_path_factory):
    folder = str(tmp_path_factory.mktemp("workers"))
    with (
        distributed.LocalCluster(n_workers=2, threads_per_worker=1, dashboard_address=None, local_directory=folder) as cluster,
        distributed.Client(cluster) as client,
        client.get_executor() as pool,
    ):
        yield pool


def test_the_same_numbers_on_a_cluster(executor):
    T, P = np.linspace(220.0, 320.0, 9000), 20e5
    here, there = GAS.flash(Z, T=T, P=P), GAS.flash(Z, T=T, P=P, executor=executor)
    np.testing.assert_array_equal(there.vapor_fraction, here.vapor_fraction)
    np.testing.assert_array_equal(there.result.x, here.result.x)


def test_specified_flashes_and_tables_on_a_cluster(executor):
    H = np.linspace(-9000.0, 2000.0, 1500)
    here, there = GAS.flash(Z, P=20e5, H=H), GAS.flash(Z, P=20e5, H=H, executor=executor)
    np.testing.assert_array_equal(there.T, here.T)
    table = GAS.table(Z, P=20e5, T=np.linspace(220.0, 320.0, 9000), properties=["H"], executor=executor)
    assert len(table) == 9000
    assert np.isfinite(table["H [J/mol]"]).all()
