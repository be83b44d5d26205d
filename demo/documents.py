"""Drawings that go with the deliveries: small PDF files written by hand, line by line."""
import building as b

MM = 72 / 25.4
WIDTH, HEIGHT = 420 * MM, 297 * MM  # A3, lying


def number(value):
    return f"{value:.2f}".rstrip("0").rstrip(".")


class Sheet:
    """One A3 page, drawn in millimetres from its lower left corner."""

    def __init__(self, title, number_, company, revision, date):
        self.lines = ["0.35 w"]
        self.rectangle(8, 8, 404, 281)
        self.rectangle(292, 8, 120, 42)
        for y, size, words in ((40, 13, "Marrowfield Seed Store"), (31, 11, title), (22, 9, f"{number_}   {revision}   {date}"), (14, 9, f"{company}   1:150")):
            self.text(296, y, size, words)

    def rectangle(self, x, y, w, h, fill=None):
        if fill is not None:
            self.lines.append(f"{fill} g {number(x * MM)} {number(y * MM)} {number(w * MM)} {number(h * MM)} re B 0 g")
        else:
            self.lines.append(f"{number(x * MM)} {number(y * MM)} {number(w * MM)} {number(h * MM)} re S")

    def line(self, x0, y0, x1, y1, width=0.35):
        self.lines.append(f"{width} w {number(x0 * MM)} {number(y0 * MM)} m {number(x1 * MM)} {number(y1 * MM)} l S")

    def circle(self, x, y, r):
        k, X, Y, R = 0.5523, x * MM, y * MM, r * MM
        curves = [(R, 0, R, k * R, k * R, R, 0, R), (0, R, -k * R, R, -R, k * R, -R, 0), (-R, 0, -R, -k * R, -k * R, -R, 0, -R), (0, -R, k * R, -R, R, -k * R, R, 0)]
        self.lines.append(f"{number(X + R)} {number(Y)} m " + " ".join(
            " ".join(number(v + (X if i % 2 == 0 else Y)) for i, v in enumerate(c[2:])) + " c" for c in curves) + " S")

    def text(self, x, y, size, words):
        escaped = words.replace("\\", "\\\\").replace("(", "\\(").replace(")", "\\)")
        self.lines.append(f"BT /F1 {size} Tf {number(x * MM)} {number(y * MM)} Td ({escaped}) Tj ET")

    def plan(self, draw):
        """The grid with its bubbles, and what `draw(at)` puts on it; `at` turns metres of the building into the sheet."""
        scale, left, low = 1000 / 150, 40, 90

        def at(x, y):
            return left + x * scale, low + y * scale

        for tag, x in b.NUMBERS.items():
            (x0, y0), (_, y1) = at(x, -1.5), at(x, b.YS[-1] + 1.5)
            self.line(x0, y0, x0, y1, 0.18)
            self.circle(x0, y1 + 5, 4.5)
            self.text(x0 - 1.3, y1 + 3.6, 10, tag)
        for tag, y in b.LETTERS.items():
            (x0, y0), (x1, _) = at(-1.5, y), at(b.XS[-1] + 1.5, y)
            self.line(x0, y0, x1, y0, 0.18)
            self.circle(x0 - 5, y0, 4.5)
            self.text(x0 - 6.4, y0 - 1.4, 10, tag)
        for x in b.XS:
            for y in b.YS:
                px, py = at(x - b.COLUMN / 2, y - b.COLUMN / 2)
                self.rectangle(px, py, b.COLUMN * scale, b.COLUMN * scale, 0.55)
        draw(at)


def write(path, sheets):
    objects = ["<</Type/Catalog/Pages 2 0 R>>", None, "<</Type/Font/Subtype/Type1/BaseFont/Helvetica/Encoding/WinAnsiEncoding>>"]
    kids = []
    for sheet in sheets:
        content = "\n".join(sheet.lines)
        objects.append(f"<</Length {len(content)}>>\nstream\n{content}\nendstream")
        objects.append(f"<</Type/Page/Parent 2 0 R/MediaBox[0 0 {number(WIDTH)} {number(HEIGHT)}]/Resources<</Font<</F1 3 0 R>>>>/Contents {len(objects)} 0 R>>")
        kids.append(f"{len(objects)} 0 R")
    objects[1] = f"<</Type/Pages/Count {len(kids)}/Kids[{' '.join(kids)}]>>"
    out, offsets = "%PDF-1.4\n", []
    for i, body in enumerate(objects):
        offsets.append(len(out))
        out += f"{i + 1} 0 obj\n{body}\nendobj\n"
    start = len(out)
    out += f"xref\n0 {len(objects) + 1}\n0000000000 65535 f \n" + "".join(f"{o:010} 00000 n \n" for o in offsets)
    out += f"trailer\n<</Size {len(objects) + 1}/Root 1 0 R>>\nstartxref\n{start}\n%%EOF\n"
    path.write_bytes(out.encode("latin-1"))


def heating(path, revision, date):
    from piping import MAINS
    sheets = []
    for n, storey in enumerate(b.FLOORS):
        sheet = Sheet(f"Heating, {storey}", f"OPW-H-{n + 1:03}", "Ostermere Pipework", revision, date)

        def draw(at):
            for side, y in MAINS.items():
                for i in range(6):
                    (x0, y0), (x1, _) = at(b.XS[i] + 0.35, y), at(b.XS[i + 1] - 0.35, y)
                    sheet.line(x0, y0, x1, y0, 0.9)
                    wall = 0.25 if side == "S" else b.YS[-1] - 0.25
                    x2, y2 = at(b.XS[i] + 2.55, wall)
                    sheet.line(x2, y0, x2, y2, 0.5)
                    sheet.rectangle(x2 - 2, y2 - 0.6, 8, 1.2, 0.8)
        sheet.plan(draw)
        sheets.append(sheet)
    write(path, sheets)


def electrical(path, revision, date):
    from electrical import TRAYS
    sheet = Sheet("Cable trays, Level 1", "PWE-E-001", "Pellwick Electric", revision, date)

    def draw(at):
        for y in TRAYS.values():
            (x0, y0), (x1, _) = at(0.25, y - 0.15), at(b.XS[-1] - 0.25, y)
            sheet.rectangle(x0, y0, x1 - x0, 2, 0.85)
    sheet.plan(draw)
    write(path, [sheet])
