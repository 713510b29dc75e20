"""XMP of many hands: read whatever form a property has, and a rating written with all else as it was."""

import io

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, PngImagePlugin

from tests.conftest import scene
from yarnkite.core.base.errors import UnreadableStill
from yarnkite.core.image.header import read_header
from yarnkite.core.image.xmp import MOST_BYTES, read_xmp
from yarnkite.core.image.xmp_rating import with_rating

RDF = "http://www.w3.org/1999/02/22-rdf-syntax-ns#"
NAMES = (
    'xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:dc="http://purl.org/dc/elements/1.1/" '
    'xmlns:exif="http://ns.adobe.com/exif/1.0/" xmlns:tiff="http://ns.adobe.com/tiff/1.0/"'
)


def packet(attributes: str = "", elements: str = "") -> str:
    return (
        '<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>\n<x:xmpmeta xmlns:x="adobe:ns:meta/">'
        f'<rdf:RDF xmlns:rdf="{RDF}"><rdf:Description rdf:about="" {NAMES} {attributes}>{elements}</rdf:Description>'
        '</rdf:RDF></x:xmpmeta>\n<?xpacket end="w"?>'
    )


CAPTION = (
    '<dc:description><rdf:Alt><rdf:li xml:lang="de">Ebbe</rdf:li>'
    '<rdf:li xml:lang="x-default">Low tide</rdf:li></rdf:Alt></dc:description>'
)


@pytest.mark.parametrize(
    ("text", "rating", "label", "caption"),
    [
        (packet('xmp:Rating="4" xmp:Label="Second choice"', CAPTION), 4, "Second choice", "Low tide"),
        (packet("", "<xmp:Rating>-1</xmp:Rating><xmp:Label> Red\n one </xmp:Label>"), -1, "Red one", ""),
        (packet('xmp:Rating="3.0"'), 3, "", ""),
        (packet("", "<xmp:Rating><rdf:Description><rdf:value>2</rdf:value></rdf:Description></xmp:Rating>"), 2, "", ""),
        (packet('xmp:Rating="6"'), None, "", ""),
        (packet('xmp:Rating="nan"'), None, "", ""),
        (packet(), None, "", ""),
    ],
)
def test_ratings_labels_and_captions_are_read_in_every_form_they_have(text, rating, label, caption):
    for data in (text, text.encode(), text.encode() + b"\0\0 \n"):
        found = read_xmp(data, "a.xmp")
        assert (found.rating, found.label, found.caption, found.has_more) == (rating, label, caption, False)


def test_what_other_programs_keep_for_themselves_is_noticed_and_not_read():
    assert read_xmp(packet('xmlns:own="urn:workbench:1" own:Warmth="5400"'), "a.xmp").has_more
    assert read_xmp(packet("", '<own:Curve xmlns:own="urn:workbench:1"><rdf:Seq/></own:Curve>'), "a.xmp").has_more


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"<notes/>",
        b"\xff\xd8\xff",
        packet().encode("utf-16"),
        packet().replace("?>\n<x:", '?><!DOCTYPE a [<!ENTITY b "bb">]>\n<x:', 1).encode(),
        packet().encode()[:-40],
        b" " * (MOST_BYTES + 1),
    ],
)
def test_what_is_no_xmp_is_refused_with_a_sentence(data: bytes):
    with pytest.raises(UnreadableStill) as refusal:
        read_xmp(data, "tide.xmp")
    assert "“tide.xmp”" in refusal.value.sentence
    with pytest.raises(UnreadableStill):
        with_rating(data, 3, "tide.xmp")


@pytest.mark.parametrize(
    "text",
    [
        packet('xmp:Rating="4" xmp:Label="a > b"', CAPTION),
        packet("xmp:Rating = '0'"),
        packet("", "<xmp:Label>Red</xmp:Label><xmp:Rating>4</xmp:Rating>"),
        packet("", "<xmp:Rating/>"),
        packet('xmlns:own="urn:workbench:1" own:Rating="9" own:Curve="0 0 / 9 9"'),
        packet().replace("xmlns:xmp=", "xmlns:first="),
        packet().replace('xmlns:xmp="http://ns.adobe.com/xap/1.0/"', 'xmlns:xmp="urn:other"'),
        "\ufeff" + packet('xmp:Rating="2"'),
    ],
)
def test_a_rating_is_written_and_all_else_stays_byte_for_byte(text: str):
    before = text.encode()
    try:
        after = with_rating(before, -1, "a.xmp")
    except UnreadableStill:
        # An empty element has no place for one, and a second rating beside it would be two.
        assert "<xmp:Rating/>" in text
        return
    assert read_xmp(after, "a.xmp").rating == -1
    assert read_xmp(after, "a.xmp").label == read_xmp(before, "a.xmp").label
    start = next((at for at, (one, two) in enumerate(zip(before, after, strict=False)) if one != two), len(before))
    tail = len(before) - start
    while tail and not after.endswith(before[len(before) - tail :]):
        tail -= 1
    # What lies between is at most the old value.
    assert len(before) - start - tail <= 1


@given(st.integers(-1, 5), st.integers(-1, 5))
def test_a_new_sidecar_says_what_was_rated_and_can_be_rated_again(first: int, then: int):
    new = with_rating(None, first, "a.xmp")
    assert read_xmp(new, "a.xmp").rating == first
    assert with_rating(with_rating(new, then, "a.xmp"), first, "a.xmp") == new


def saved(kind: str, **options: object) -> bytes:
    memory = io.BytesIO()
    Image.fromarray(scene(64, 48, 1)).save(memory, kind, **options)
    return memory.getvalue()


def test_what_is_embedded_is_read_and_fills_in_for_exif_that_is_missing():
    said = packet(
        'xmp:Rating="5" tiff:Model="Marrow Lantern" exif:ExposureTime="1/250" exif:FNumber="56/10" '
        'exif:DateTimeOriginal="2031-04-05T06:07:08.250+02:00"'
    )
    png = PngImagePlugin.PngInfo()
    png.add_itxt("XML:com.adobe.xmp", said)
    tags = Image.Exif()
    tags[0x0110] = "Other Lantern"
    for name, data in {
        "a.jpg": saved("JPEG", xmp=said.encode()),
        "a.png": saved("PNG", pnginfo=png),
        "a.webp": saved("WEBP", xmp=said.encode()),
        "a.tif": saved("TIFF", tiffinfo={700: said.encode()}),
    }.items():
        found = read_header(data, name)
        assert (found.rating, found.camera, found.exposure_s, found.aperture) == (5, "Marrow Lantern", 0.004, 5.6), name
        assert found.captured is not None
        assert found.captured.isoformat() == "2031-04-05T06:07:08.250000+02:00", name
    both = read_header(saved("JPEG", xmp=said.encode(), exif=tags), "a.jpg")
    assert (both.camera, both.exposure_s) == ("Other Lantern", 0.004)
    broken = read_header(saved("JPEG", xmp=b"<x"), "a.jpg")
    assert (broken.rating, broken.width) == (None, 64)
