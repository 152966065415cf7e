# What other programs read in a file: its words in order, headings, tables and pictures, as JSON.
#   python3 others.py KIND FILE
import json
import pathlib
import re
import subprocess
import sys
import tempfile
import xml.etree.ElementTree as tree
import zipfile

kind, name = sys.argv[1:]
found = {"words": [], "headings": [], "tables": [], "pictures": [], "lists": []}


def take(text):
    found["words"] += text.split()


def take_docx():
    import docx
    from docx.table import Table
    from docx.text.paragraph import Paragraph

    document = docx.Document(name)
    for block in document.element.body.iterchildren():
        if block.tag.endswith("}p"):
            paragraph = Paragraph(block, document)
            take(paragraph.text)
            if paragraph.style.name.startswith("Heading"):
                found["headings"].append([int(paragraph.style.name[-1]), paragraph.text])
            if paragraph.style.name == "List Paragraph":
                found["lists"].append(paragraph.text)
        elif block.tag.endswith("}tbl"):
            table = Table(block, document)
            found["tables"].append([[cell.text for cell in row.cells] for row in table.rows])
            for row in found["tables"][-1]:
                take(" ".join(row))
    found["pictures"] = [[shape.width.mm, shape.height.mm] for shape in document.inline_shapes]
    found["pages"] = [[s.page_width.mm, s.page_height.mm] for s in document.sections]
    found["bold"] = [run.text for p in document.paragraphs for run in p.runs if run.bold]


def take_odt(file):
    from odf import draw, table, teletype, text
    from odf.opendocument import load

    def blocks_of(parent):
        for block in parent.childNodes:
            if block.nodeType == 1:
                yield from blocks_of(block) if block.qname[1] == "section" else [block]

    document = load(file)
    found["sections"] = len(document.text.getElementsByType(text.Section))
    for block in blocks_of(document.text):
        called = block.qname[1]
        if called == "table":
            rows = [
                [teletype.extractText(cell) for cell in row.getElementsByType(table.TableCell)]
                for row in block.getElementsByType(table.TableRow)
            ]
            found["tables"].append(rows)
            for row in rows:
                take(" ".join(row))
            continue
        frames = block.getElementsByType(draw.Frame)
        boxes = block.getElementsByType(draw.TextBox)
        for box in boxes:
            take(teletype.extractText(box))
        for frame in [] if boxes else frames:
            found["pictures"].append([float(frame.getAttribute(a)[:-2]) for a in ("width", "height")])
        if frames:
            continue
        items = block.getElementsByType(text.ListItem) if called == "list" else [block]
        for item in items:
            take(teletype.extractText(item))
            if called == "list":
                found["lists"].append(teletype.extractText(item))
        if called == "h":
            found["headings"].append([int(block.getAttribute("outlinelevel")), teletype.extractText(block)])


def take_as_office_opens_it():
    """What LibreOffice has of it, when it saves it anew as OpenDocument."""
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run(
            ["soffice", f"-env:UserInstallation=file://{folder}/profile", "--headless"]
            + ["--convert-to", "odt", "--outdir", folder, name],
            check=True,
            capture_output=True,
        )
        take_odt(f"{folder}/{pathlib.Path(name).stem}.odt")


def take_tagged_pdf():
    """The structure tree as poppler follows it: an element a line, deeper is further in, text in quotes."""
    said = subprocess.run(["pdfinfo", "-struct-text", name], check=True, capture_output=True, text=True).stdout
    above, quoted = [], None
    for line in said.split("\n"):
        if quoted is None and line.strip().startswith('"'):
            quoted = ""
        if quoted is not None:
            quoted += line.strip()
            if not line.endswith('"'):
                continue
            text, quoted, kinds = quoted.strip('"').strip(), None, [k for _, k in above]
            take(text)
            if kinds[-1][0] == "H":
                found["headings"].append([int(kinds[-1][1]), text])
            if kinds[-1] in ("TD", "TH"):
                found["tables"][-1][-1][-1] = text
            if kinds[-1] == "LBody":
                found["lists"].append(text)
            continue
        if not line.strip() or line.strip().startswith("/"):
            continue
        depth, kind = len(line) - len(line.lstrip()), line.split()[0].rstrip(":")
        while above and above[-1][0] >= depth:
            above.pop()
        above.append((depth, kind))
        if kind == "Table":
            found["tables"].append([])
        if kind == "TR":
            found["tables"][-1].append([])
        if kind in ("TD", "TH"):
            found["tables"][-1][-1].append("")
        if kind == "Figure":
            found["pictures"].append(line.strip())


def take_html(text):
    import html5lib

    page = html5lib.HTMLParser(strict=True, namespaceHTMLElements=False).parse(text)
    found["language"] = page.get("lang")
    for element in page.find("body").iter():
        called = element.tag
        if re.fullmatch("h[1-6]", str(called)):
            found["headings"].append([int(called[1]), "".join(element.itertext())])
        if called == "li":
            found["lists"].append("".join(element.itertext()))
        if called == "table":
            found["tables"].append([["".join(cell.itertext()) for cell in row.iter("td")] for row in element.iter("tr")])
        if called == "img":
            found["pictures"].append([float(element.get(a)) / 96 * 25.4 for a in ("width", "height")])
            assert element.get("alt")
        if called in ("p", "h1", "h2", "h3", "li", "td"):
            take("".join(element.itertext()))


def take_epub():
    book = zipfile.ZipFile(name)
    assert book.testzip() is None
    space = {"opf": "http://www.idpf.org/2007/opf"}
    package = tree.fromstring(book.read("EPUB/package.opf"))
    items = {i.get("id"): i.get("href") for i in package.find("opf:manifest", space)}
    for each in package.find("opf:spine", space):
        text = book.read("EPUB/" + items[each.get("idref")]).decode()
        tree.fromstring(text)  # XHTML
        take_html(re.sub(r"^<\?xml.*\?>\n", "", text))


def take_hocr():
    page = tree.parse(name)
    space = "{http://www.w3.org/1999/xhtml}"
    for word in page.iter(space + "span"):
        if word.get("class") == "ocrx_word":
            take("".join(word.itertext()))
            assert re.match(r"bbox \d+ \d+ \d+ \d+; x_wconf \d+$", word.get("title"))
    found["boxes"] = [
        [int(n) for n in re.findall(r"\d+", w.get("title"))[:4]]
        for w in page.iter(space + "span")
        if w.get("class") == "ocrx_word"
    ]
    assert all("ocr_page" != d.get("class") or "bbox 0 0" in d.get("title") for d in page.iter(space + "div"))


def take_alto():
    page = tree.parse(name)
    space = "{http://www.loc.gov/standards/alto/ns-v4#}"
    identities = [e.get("ID") for e in page.iter() if e.get("ID")]
    assert len(identities) == len(set(identities))
    found["boxes"] = []
    for line in page.iter(space + "TextLine"):
        assert all(line.get(a) for a in ("HPOS", "VPOS", "WIDTH", "HEIGHT"))
        for word in line.iter(space + "String"):
            # A parted word is read whole, once.
            if word.get("SUBS_TYPE") != "HypPart2":
                take(word.get("SUBS_CONTENT") or word.get("CONTENT"))
            found["boxes"].append([int(word.get(a)) for a in ("HPOS", "VPOS", "WIDTH", "HEIGHT")])


if kind == "docx":
    take_docx()
elif kind == "odt":
    take_odt(name)
elif kind == "office":
    take_as_office_opens_it()
elif kind == "tagged-pdf":
    take_tagged_pdf()
elif kind == "html":
    take_html(open(name, encoding="utf-8").read())
elif kind == "epub":
    take_epub()
elif kind == "hocr":
    take_hocr()
elif kind == "alto":
    take_alto()
print(json.dumps(found))
