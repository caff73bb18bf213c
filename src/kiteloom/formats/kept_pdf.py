"""What a PDF that is kept for years says of itself: its title as XMP, and by which colours it is shown.

So far as is known here it has what ISO 19005-2 (PDF/A-2b) asks of a plain document, from memory: every font in the
file, nothing from outside, XMP metadata that agree with the document's own, an output intent with its profile. No
validator was run over it, so it does not say that it conforms.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Any
from xml.sax.saxutils import escape

from PIL import ImageCms
from reportlab.pdfbase.pdfdoc import PDFArray, PDFDictionary, PDFName, PDFStream, PDFString
from reportlab.pdfgen.canvas import Canvas

#: What makes it, in both metadata.
MAKER = "Kite Loom"
#: The date of every document: of the same facts the same file is made.
_DATE = "2000-01-01T00:00:00+00:00"
_XMP = """<?xpacket begin="\ufeff" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#">
<rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/"
 xmlns:pdf="http://ns.adobe.com/pdf/1.3/" xmlns:xmp="http://ns.adobe.com/xap/1.0/">
<dc:format>application/pdf</dc:format>
<dc:title><rdf:Alt><rdf:li xml:lang="x-default">{title}</rdf:li></rdf:Alt></dc:title>
<dc:description><rdf:Alt><rdf:li xml:lang="x-default">{subject}</rdf:li></rdf:Alt></dc:description>
<dc:creator><rdf:Seq><rdf:li>{maker}</rdf:li></rdf:Seq></dc:creator>
<pdf:Producer>{maker}</pdf:Producer><xmp:CreatorTool>{maker}</xmp:CreatorTool>
<xmp:CreateDate>{date}</xmp:CreateDate><xmp:ModifyDate>{date}</xmp:ModifyDate>
</rdf:Description></rdf:RDF></x:xmpmeta>
<?xpacket end="w"?>"""


def keep_for_years(canvas: Canvas, title: str, subject: str) -> None:
    """Add to a document what it needs to be kept: call it on the first page."""
    document: Any = canvas._doc  # type: ignore[attr-defined]  # its own name for it
    info, catalog = document.info, document.Catalog
    info.title, info.subject, info.author, info.creator, info.producer = title, subject, MAKER, MAKER, MAKER
    said = {"title": escape(title), "subject": escape(subject), "maker": MAKER, "date": _DATE}
    named = PDFDictionary({"Type": PDFName("Metadata"), "Subtype": PDFName("XML")})
    catalog.Metadata = PDFStream(named, _XMP.format(**said).encode(), filters=[])
    profile = document.Reference(PDFStream(PDFDictionary({"N": 3}), _srgb()))
    intent = {
        "Type": PDFName("OutputIntent"),
        "S": PDFName("GTS_PDFA1"),
        "OutputConditionIdentifier": PDFString("sRGB IEC61966-2.1"),
        "DestOutputProfile": profile,
    }
    catalog.__NoDefault__ = [*catalog.__NoDefault__, "OutputIntents"]
    catalog.OutputIntents = PDFArray([PDFDictionary(intent)])


@lru_cache
def _srgb() -> bytes:
    """The profile of sRGB; the moment it was made left out of it, at 24 to 35 (ICC.1:2022, 7.2)."""
    made = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    return made[:24] + bytes((7, 208, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0)) + made[36:]
