import io
import zipfile
from pathlib import Path

import pytest

from fairwitness.core.errors import PackageError
from fairwitness.formats import package_source
from fairwitness.formats.package_source import opened


def zipped(**members):
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members.items():
            archive.writestr(name, data)
    return buffer.getvalue()


def test_folder_and_zip_read_the_same(tmp_path):
    (tmp_path / "a").write_bytes(b"hello")
    with opened(tmp_path, None) as folder, opened(tmp_path / "x.zip", zipped(a=b"hello")) as archive:
        assert folder.read("a", 10) == archive.read("a", 10) == b"hello"


def test_missing_files_are_missing(tmp_path):
    with opened(tmp_path, None) as folder, pytest.raises(FileNotFoundError):
        folder.read("a", 10)
    with opened(tmp_path / "x.zip", zipped(a=b"")) as archive, pytest.raises(FileNotFoundError):
        archive.read("b", 10)


def test_a_link_out_of_the_folder_is_refused(tmp_path):
    inside = tmp_path / "package"
    inside.mkdir()
    (tmp_path / "secret").write_text("x")
    (inside / "a").symlink_to(tmp_path / "secret")
    with opened(inside, None) as folder, pytest.raises(PackageError, match="out of the package"):
        folder.read("a", 10)


@pytest.mark.parametrize("kind", ["folder", "zip"])
def test_a_file_over_the_limit_is_refused(tmp_path, kind):
    (tmp_path / "a").write_bytes(b"0123456789")
    data = None if kind == "folder" else zipped(a=b"0123456789")
    with opened(tmp_path, data) as source, pytest.raises(PackageError, match="larger than"):
        source.read("a", 9)


def test_all_members_together_stay_within_the_limit(tmp_path, monkeypatch):
    monkeypatch.setattr(package_source, "PACKAGE_BYTES_MAX", 15)
    with opened(tmp_path / "x.zip", zipped(a=b"0123456789")) as archive:
        archive.read("a", 100)
        with pytest.raises(PackageError, match="larger than"):
            archive.read("a", 100)


def test_a_zip_of_very_many_files_is_refused(tmp_path, monkeypatch):
    monkeypatch.setattr(package_source, "MEMBERS_MAX", 2)
    with pytest.raises(PackageError, match="3 files"), opened(tmp_path / "x.zip", zipped(a="", b="", c="")):
        pass


def test_a_zip_of_a_version_no_one_reads_is_refused():
    data = bytearray(zipped(a=b"hello"))
    entry = data.index(b"PK\x01\x02")
    data[entry + 6] = 0xFE  # the version needed to unpack; found by fuzzing
    with pytest.raises(PackageError, match="not a ZIP"), opened(Path("x.zip"), bytes(data)):
        pass
