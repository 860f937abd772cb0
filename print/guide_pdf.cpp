// SPDX-License-Identifier: GPL-3.0-or-later
#include <QBuffer>
#include <QPainter>
#include <QPdfWriter>
#include <algorithm>
#include <cmath>

#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/files/sheet_content.h"
#include "core/files/sheet_drive.h"
#include "core/parts/palette.h"
#include "print/board_sheet.h"
#include "print/guide.h"
#include "print/pdf_outline.h"
#include "print/pictures.h"

namespace ivrant::print {
namespace {

const QColor kInk(0x20, 0x30, 0x3A), kBrine(0x1F, 0x7A, 0x80), kRule(0xD8, 0xD0, 0xBE), kQuiet(0x55, 0x63, 0x6B);
const QColor kEmber(0xA8, 0x3A, 0x1D), kStraw(0x7A, 0x5A, 0x00), kMoss(0x3E, 0x63, 0x2C);
constexpr double kMm = 300.0 / 25.4;               ///< units of the page at 300 per inch
constexpr double kMarginMm = 15, kTableWide = 180; ///< mm

QString q(const std::string& text) { return QString::fromStdString(text); }

/// Text and pictures down the page, a new page when the next block does not fit. All sizes in mm.
class Page {
public:
    Page(QPdfWriter& writer, std::string title)
        : m_writer(writer), m_painter(&writer), m_title(std::move(title)),
          m_wide(writer.pageLayout().paintRect(QPageLayout::Millimeter).width()),
          m_high(writer.pageLayout().paintRect(QPageLayout::Millimeter).height()) {
        m_painter.scale(kMm, kMm);
        m_painter.setRenderHint(QPainter::SmoothPixmapTransform);
        drawFoot();
    }

    [[nodiscard]] QPainter& painter() { return m_painter; }
    [[nodiscard]] double y() const { return m_y; }
    [[nodiscard]] double wide() const { return m_wide; } ///< of what is printed on, mm
    [[nodiscard]] double high() const { return m_high; }
    void skip(double mm) { m_y += mm; }
    void need(double mm) {
        if (m_y + mm > m_high - 8) newPage();
    }
    void newPage() {
        m_writer.newPage();
        ++m_number;
        m_y = 0;
        drawFoot();
    }
    void setFont(double mm, bool bold, const QColor& colour = kInk) {
        QFont font("Inter");
        font.setStyleHint(QFont::SansSerif);
        font.setStyleStrategy(QFont::PreferNoShaping); // contextual forms of x and - would be lost to text search
        font.setPixelSize(100);                        // drawn at a hundredth: fractional sizes in mm
        font.setBold(bold);
        m_painter.setFont(font);
        m_size = mm;
        m_painter.setPen(colour);
    }
    /// Wrapped text in a box; returns the height it took.
    double text(double x, double y, double width, const QString& content, bool draw = true) {
        m_painter.save();
        m_painter.translate(x, y);
        m_painter.scale(m_size / 100, m_size / 100);
        const QRectF box(0, 0, width * 100 / m_size, 1e6);
        QRectF used;
        if (draw)
            m_painter.drawText(box, Qt::TextWordWrap, content, &used);
        else
            used = m_painter.boundingRect(box, Qt::TextWordWrap, content);
        m_painter.restore();
        return used.height() * m_size / 100;
    }
    void heading(const QString& content, int level = 0) {
        need(24);
        mark(content.toStdString(), level);
        m_y += 4;
        setFont(5, true);
        m_y += text(0, m_y, m_wide, content) + 1;
        m_painter.setPen(QPen(kBrine, 0.3));
        m_painter.drawLine(QPointF(0, m_y), QPointF(m_wide, m_y));
        m_y += 2;
    }
    /// A bookmark of what comes now.
    void mark(const std::string& title, int level) {
        m_bookmarks.push_back({level, title, m_number, (kMarginMm + m_y) / (m_high + 2 * kMarginMm)});
    }
    [[nodiscard]] const std::vector<Bookmark>& bookmarks() const { return m_bookmarks; }
    void rule() {
        m_painter.setPen(QPen(kRule, 0.15));
        m_painter.drawLine(QPointF(0, m_y), QPointF(m_wide, m_y));
        m_y += 0.8;
    }
    /// One table row; cells wrap in their columns, whose widths are those on a page of kTableWide.
    void row(std::vector<double> widths, const std::vector<QString>& cells, bool head = false,
             const QColor& first = kInk) {
        for (double& width : widths) width *= m_wide / kTableWide;
        double height = 0;
        for (std::size_t i = 0; i < cells.size(); ++i) {
            setFont(head ? 2.9 : 3.0, head || i == 0, kInk);
            height = std::max(height, text(0, 0, widths[i] - 2, cells[i], false));
        }
        need(height + 2);
        double x = 0;
        for (std::size_t i = 0; i < cells.size(); ++i) {
            setFont(head ? 2.9 : 3.0, head || i == 0, i == 0 ? first : kInk);
            text(x, m_y, widths[i] - 2, cells[i]);
            x += widths[i];
        }
        m_y += height + 0.6;
        rule();
    }
    void image(double x, double y, double width, const QImage& picture) {
        m_painter.drawImage(QRectF(x, y, width, width * picture.height() / picture.width()), picture);
    }

private:
    void drawFoot() {
        setFont(2.6, false, kQuiet);
        text(0, m_high - 4, m_wide * 0.7, q(m_title));
        text(m_wide - 12, m_high - 4, 12, QString::number(m_number));
    }
    QPdfWriter& m_writer;
    QPainter m_painter;
    std::string m_title;
    double m_wide, m_high;
    std::vector<Bookmark> m_bookmarks;
    double m_y = 0, m_size = 3;
    int m_number = 1;
};

QString markOf(verdict::State s) {
    return s == verdict::State::Fail   ? "fails"
           : s == verdict::State::Thin ? "thin"
           : s == verdict::State::Good ? "good"
                                       : "note";
}
QColor colourOf(verdict::State s) {
    return s == verdict::State::Fail ? kEmber : s == verdict::State::Thin ? kStraw : kMoss;
}
QString colourName(int colour) { return q(parts::getColourName(colour)); }

void drawCaution(Page& page, const std::string& caution) {
    page.setFont(3, false, kEmber);
    const double height = page.text(0, 0, page.wide() - 6, q("Caution. " + caution), false);
    page.need(height + 2);
    page.painter().fillRect(QRectF(0, page.y(), 1, height), kEmber);
    page.setFont(3, false, kInk);
    page.text(4, page.y(), page.wide() - 6, q("Caution. " + caution));
    page.skip(height + 2);
}

constexpr double kUnderCoverMm = 80; ///< for the title above and the figures below
void drawCover(Page& page, const files::SheetContent& content, Pictures& pictures) {
    page.setFont(10, true);
    page.skip(page.text(0, page.y(), page.wide(), q(content.title)) + 4);
    constexpr int kCoverW = 1600, kCoverH = 1150;
    const double wide = std::min(page.wide(), (page.high() - kUnderCoverMm) * kCoverW / kCoverH);
    page.image((page.wide() - wide) / 2, page.y(), wide, pictures.cover(kCoverW, kCoverH));
    page.skip(wide * kCoverH / kCoverW + 4);
    for (const auto& [name, value] : content.figures) page.row({40, 140}, {q(name), q(value)});
    page.skip(3);
    for (const auto& caution : content.cautions) drawCaution(page, caution);
}

void drawCarrying(Page& page, const files::SheetContent& content, Pictures& pictures) {
    if (content.carrying.rows.empty()) return;
    page.need(page.wide() * 0.45 + 20);
    page.heading("Carrying and transport");
    page.image(page.wide() / 5, page.y(), page.wide() * 0.6, pictures.carrying(content.carrying, 1300, 975));
    page.skip(page.wide() * 0.45 + 2);
    page.setFont(2.7, false, kQuiet);
    page.skip(page.text(0, page.y(), page.wide(), q(content.carrying.legend)) + 2);
    for (const auto& [what, how] : content.carrying.rows) page.row({44, 136}, {q(what), q(how)});
    page.skip(3);
}

/// What the builder must know of the verdicts; the rest is counted.
void drawKnown(Page& page, const files::SheetContent& content) {
    page.heading("Known weak points");
    const std::vector<double> widths{14, 16, 62, 64, 24};
    if (!content.verdicts.empty()) page.row(widths, {"", "Margin", "What", "Numbers", "Basis"}, true);
    for (const auto& v : content.verdicts)
        page.row(widths, {markOf(v.state), q(v.margin), q(v.text), q(v.detail), q(v.basis)}, false, colourOf(v.state));
    page.setFont(2.7, false, kQuiet);
    page.need(10);
    page.skip(page.text(0, page.y() + 1, page.wide(), q(content.passing + " " + content.basisNote)) + 2);
}

void drawJoints(Page& page, const files::SheetContent& content) {
    if (content.joints.empty()) return;
    page.heading("Joints");
    const std::vector<double> columns{30, 36, 40, 46, 28};
    page.row(columns, {"Joint", "Kind", "Wanted", "Free", "Needs of has, N·mm"}, true);
    for (const auto& j : content.joints) page.row(columns, {q(j.name), q(j.kind), q(j.wanted), q(j.free), q(j.hold)});
}

/// What else may stand there, with the parts that it takes.
void drawChoices(Page& page, const files::SheetContent& content) {
    if (content.choices.empty()) return;
    page.need(40);
    page.heading("Choices");
    const std::vector<double> widths{26, 34, 80, 40};
    page.row(widths, {"Place", "Choice", "Parts", ""}, true);
    for (const auto& choice : content.choices)
        page.row(widths, {q(choice.option), q(choice.alternative), q(choice.parts.empty() ? "none" : choice.parts),
                          choice.built ? "in these steps" : q(choice.text)});
}

void drawMotions(Page& page, const files::SheetContent& content, Pictures& pictures) {
    for (const auto& motion : content.motions) {
        const QImage strip = pictures.motion(motion.study, 2000);
        const double high = page.wide() * strip.height() / strip.width();
        page.need(high + 30);
        page.heading("How it moves: " + q(motion.name));
        page.image(0, page.y(), page.wide(), strip);
        page.skip(high + 2);
        page.setFont(3, false);
        for (const std::string& line : motion.lines) page.skip(page.text(0, page.y(), page.wide(), q(line)) + 0.5);
        page.skip(3);
    }
}

void drawLines(Page& page, const files::SheetContent& content, Pictures& pictures) {
    for (const auto& line : content.lines) {
        constexpr double kHighMm = 88;
        page.need(kHighMm + 30);
        page.heading(q(line.name));
        page.image(0, page.y(), page.wide(),
                   pictures.threading(line.study, 1600, static_cast<int>(1600 * kHighMm / page.wide())));
        page.skip(kHighMm + 2);
        page.setFont(3, false);
        for (std::size_t g = 0; g < line.guides.size(); ++g)
            page.skip(page.text(0, page.y(), page.wide(), QString::number(g + 1) + "  " + q(line.guides[g])) + 0.5);
        for (const std::string& text : line.lines) page.skip(page.text(0, page.y(), page.wide(), q(text)) + 0.5);
        page.skip(3);
    }
}

void drawLifts(Page& page, const files::SheetContent& content) {
    if (content.lifts.empty()) return;
    page.heading("What lifts off");
    const std::vector<double> widths{34, 26, 34, 40, 46};
    page.row(widths, {"", "How", "Force", "First", "Mind"}, true);
    for (const auto& lift : content.lifts)
        page.row(widths, {q(lift.name), q(lift.way), q(lift.force), q(lift.first), q(lift.mind)});
    page.skip(3);
}

void drawPacking(Page& page, const files::SheetPacking& packing) {
    if (packing.boxes.empty()) return;
    page.heading("Packing and putting up");
    page.setFont(2.7, false, kQuiet);
    page.skip(page.text(0, page.y(), page.wide(), q(packing.about)) + 2);
    for (const auto& [box, pieces] : packing.boxes) page.row({64, 116}, {q(box), q(pieces)});
    page.skip(2);
    page.row({150, 30}, {"Putting up", ""}, true);
    for (const auto& [what, minutes] : packing.putUp) page.row({150, 30}, {q(what), q(minutes)});
    page.skip(2);
    if (!packing.bring.empty()) page.row({70, 110}, {"Bring", "Why"}, true);
    for (const auto& [what, why] : packing.bring) page.row({70, 110}, {q(what), q(why)});
    page.skip(3);
}

void drawParts(Page& page, const files::SheetContent& content, Pictures& pictures) {
    page.newPage();
    page.heading("Parts");
    const int columns = page.wide() > page.high() ? 6 : 4;
    constexpr double kCellH = 29;
    const double cell = page.wide() / columns;
    int column = 0;
    const auto next = [&] {
        if (++column == columns) {
            column = 0;
            page.skip(kCellH);
        }
    };
    for (const auto& line : content.parts) {
        if (column == 0) page.need(kCellH);
        const double x = column * cell;
        page.image(x + 2, page.y(), 18, pictures.part(line.shape, line.colour, 200));
        page.setFont(4.2, true);
        page.text(x + 22, page.y() + 4, cell - 24, QString::number(line.count) + " ×");
        page.setFont(2.8, false);
        page.text(x + 2, page.y() + 18.5, cell - 4, q(line.shape) + "\n" + colourName(line.colour));
        next();
    }
    if (column != 0) page.skip(kCellH);
    for (const auto& line : content.ballast)
        page.row({40, 140}, {"Ballast", q(base::formatNumber(line.massG, 0) + " g in " + line.section)});
}

void drawBoard(Page& page, const DriveState& state, const files::SheetBoard& board) {
    page.newPage();
    page.heading("Gear board: " + q(board.name));
    constexpr double kMostH = 130;
    const double scale = findSheetScale(state, board.board, page.wide(), kMostH);
    page.setFont(3, false, kQuiet);
    page.skip(page.text(0, page.y(), page.wide(),
                        q(board.place) +
                            QString(". Drawn 1:%1, holes numbered by fives.").arg(q(base::formatNumber(scale, 2)))) +
              2);
    const QSizeF size = calcSheetSize(state, board.board, scale);
    page.need(size.height() + 4);
    paintBoardSheet(page.painter(), state, board.board, scale, {(page.wide() - size.width()) / 2, page.y()});
    page.skip(size.height() + 3);
    const std::vector<double> widths{44, 36, 22, 16, 62};
    page.row(widths, {"Wheel", "On", "Hole", "Layer", "Meshes with"}, true);
    for (const auto& w : board.wheels) page.row(widths, {q(w.wheel), q(w.shaft), q(w.hole), q(w.layer), q(w.meshes)});
    page.skip(3);
    page.row({36, 144}, {"Shaft", ""}, true);
    for (const auto& [name, text] : board.shafts) page.row({36, 144}, {q(name), q(text)});
}

void drawDrive(Page& page, const verdict::Report& report) {
    const auto sheet = files::makeSheetDrive(report);
    const auto state = makeDriveState(report);
    for (const auto& board : sheet.boards) drawBoard(page, *state, board);
    if (!sheet.functions.empty()) {
        page.newPage();
        page.heading("Functions");
        const std::vector<double> widths{24, 26, 16, 18, 18, 24, 26, 14, 14};
        page.row(widths, {"Function", "Selector", "Motor", "Ratio", "Speed", "Travel", "Asks", "Margin", "Power off"},
                 true);
        for (const auto& f : sheet.functions)
            page.row(widths, {q(f.function), q(f.position), q(f.motor), q(f.ratio), q(f.speed), q(f.travel), q(f.asks),
                              q(f.margin), f.holds.rfind("stays", 0) == 0 ? "stays" : "runs back"});
    }
    if (!sheet.wires.empty()) {
        page.heading("Wiring");
        const std::vector<double> widths{26, 30, 16, 30, 78};
        page.row(widths, {"Motor", "Kind", "Port", "On", "Moves"}, true);
        for (const auto& w : sheet.wires) page.row(widths, {q(w.motor), q(w.line), q(w.port), q(w.board), q(w.moves)});
        for (const auto& line : sheet.reach) page.row({4, 176}, {"", q(line)});
    }
    if (!sheet.spares.empty()) {
        page.heading("To take along");
        for (const auto& [part, why] : sheet.spares) page.row({50, 130}, {q(part), q(why)});
    }
    page.skip(3);
    for (const auto& caution : sheet.cautions) drawCaution(page, caution);
}

/// Without the rows above and below that show nothing, but for a little.
QImage trim(const QImage& image) {
    constexpr int kRoom = 16;
    const auto isEmpty = [&](int y) {
        const auto* row = reinterpret_cast<const QRgb*>(image.constScanLine(y));
        return std::all_of(row, row + image.width(), [](QRgb pixel) { return (pixel & 0xffffffU) == 0xffffffU; });
    };
    int top = 0, bottom = image.height() - 1;
    while (top < bottom && isEmpty(top)) ++top;
    while (bottom > top && isEmpty(bottom)) --bottom;
    top = std::max(0, top - kRoom);
    bottom = std::min(image.height() - 1, bottom + kRoom);
    return image.copy(0, top, image.width(), bottom - top + 1);
}

constexpr double kStripMm = 2.4;
/// A bar of that length to lay a part on, with a mark at every pitch.
void drawStrip(Page& page, double x, double y, double mm) {
    page.painter().setPen(QPen(kInk, 0.25));
    page.painter().setBrush(QColor(0xF2, 0xED, 0xE0));
    page.painter().drawRect(QRectF(x, y, mm, kStripMm));
    page.painter().setBrush(Qt::NoBrush);
    for (double at = base::kPitchMm; at < mm - 1; at += base::kPitchMm)
        page.painter().drawLine(QPointF(x + at, y), QPointF(x + at, y + 0.9));
}

/// One step: what it makes, the picture, the tray below, what to mind. Returns the height it takes; draws with `draw`.
double drawStep(Page& page, const files::SheetStep& step, const StepView& view, const QImage& picture, double x,
                double y, double width, Pictures& pictures, bool draw) {
    constexpr double kLeastRow = 8;
    const double begin = y;
    page.setFont(5, true, kBrine);
    if (draw) page.text(x, y, 14, QString::number(step.step.number));
    page.setFont(3.4, true, kInk);
    y += std::max(6.5, page.text(x + 12, y + 1, width - 14, q(step.title), draw) + 1.5);
    const double pictureW = width - 4;
    if (draw) page.image(x, y, pictureW, picture);
    y += pictureW * picture.height() / picture.width() + 1;
    if (step.copies > 1) {
        page.setFont(4, true, kBrine);
        if (draw) page.text(x, y, width, QString::number(step.copies) + "×");
    }
    const double trayX = step.copies > 1 ? x + 11 : x;
    const double column = (x + width - trayX) / 2;
    double row = 0;
    for (std::size_t t = 0; t < step.step.tray.size(); ++t) {
        const auto& line = step.step.tray[t];
        const double tx = trayX + static_cast<double>(t % 2) * column;
        if (draw) page.image(tx, y, 7, pictures.part(line.shape, line.colour, 200));
        page.setFont(2.6, false);
        const QString text = QString::number(line.count) + "× " + q(line.shape) + "\n" + colourName(line.colour);
        row = std::max({row, kLeastRow, page.text(tx + 8, y + 0.6, column - 9, text, draw) + 1.4});
        if (t % 2 == 0 && t + 1 < step.step.tray.size()) continue;
        y += row;
        row = 0;
    }
    for (const files::TrueSize& length : step.lengths) {
        if (length.mm <= width - 6) {
            if (draw) drawStrip(page, x, y, length.mm);
            y += kStripMm + 0.6;
        }
        page.setFont(2.5, false, kQuiet);
        const QString told = length.mm <= width - 6 ? ", true size when printed at 100 %" : " long";
        y +=
            page.text(x, y, width - 4, q(length.shape + ": " + base::formatNumber(length.mm, 1) + " mm") + told, draw) +
            0.8;
    }
    page.setFont(2.8, false, kInk);
    if (view.turned) y += page.text(x, y, width - 4, "Turn the model: it is seen from another side now.", draw) + 0.6;
    if (!view.away.empty()) y += page.text(x, y, width - 4, kAwayNote, draw) + 0.6;
    for (const auto& note : step.notes) y += page.text(x, y, width - 4, q(note), draw) + 0.6;
    return y - begin + 5;
}

base::Status drawSteps(Page& page, const files::SheetContent& content, Pictures& pictures, base::Progress* progress) {
    page.newPage();
    page.heading("Steps");
    const auto views = pictures.chooseViews(content.steps, progress);
    const std::size_t columns = page.wide() > page.high() ? 3 : 2;
    const double cellWide = page.wide() / static_cast<double>(columns);
    constexpr int kPictureW = 1000, kPictureH = 560;
    for (std::size_t i = 0; i < content.steps.size(); i += columns) {
        if (progress && progress->stopped()) return base::Error{"stopped", "stopped; nothing was written", ""};
        const std::size_t end = std::min(content.steps.size(), i + columns);
        std::vector<QImage> drawn;
        double height = 0;
        for (std::size_t k = i; k < end; ++k) {
            drawn.push_back(trim(
                pictures.step(content.steps[k], views[k], kPictureW, kPictureH).convertToFormat(QImage::Format_RGB32)));
            height = std::max(
                height, drawStep(page, content.steps[k], views[k], drawn.back(), 0, 0, cellWide, pictures, false));
        }
        page.need(std::min(height, page.high() - 20));
        for (std::size_t k = i; k < end; ++k)
            if (k == 0 || content.steps[k].title != content.steps[k - 1].title)
                page.mark(std::to_string(content.steps[k].step.number) + " " + content.steps[k].title, 1);
        for (std::size_t k = i; k < end; ++k)
            drawStep(page, content.steps[k], views[k], drawn[k - i], static_cast<double>(k - i) * cellWide, page.y(),
                     cellWide, pictures, true);
        page.skip(height);
        if (progress) progress->report(static_cast<double>(end) / static_cast<double>(content.steps.size()));
    }
    return {};
}

} // namespace

base::Status writeGuidePdf(const verdict::Report& report, const std::string& path, base::Progress* progress,
                           const PageFormat& format) {
    const GuiGuard gui;
    auto pictures = Pictures::create(report);
    if (!pictures) return pictures.error();
    QByteArray bytes;
    std::vector<Bookmark> bookmarks;
    {
        QBuffer buffer(&bytes);
        buffer.open(QIODevice::WriteOnly);
        QPdfWriter writer(&buffer);
        writer.setTitle(q(report.project->name));
        writer.setCreator("Ivrant");
        writer.setPageSize(QPageSize(format.letter ? QPageSize::Letter : QPageSize::A4));
        writer.setPageOrientation(format.across ? QPageLayout::Landscape : QPageLayout::Portrait);
        writer.setPageMargins(QMarginsF(kMarginMm, kMarginMm, kMarginMm, kMarginMm), QPageLayout::Millimeter);
        writer.setResolution(300);
        const auto content = files::makeSheetContent(report);
        Page page(writer, content.title);
        drawCover(page, content, **pictures);
        if (!content.parts.empty()) drawParts(page, content, **pictures);
        drawChoices(page, content);
        if (!content.steps.empty())
            if (auto done = drawSteps(page, content, **pictures, progress); !done) return done.error();
        if (report.drive) drawDrive(page, report);
        page.newPage();
        drawJoints(page, content);
        drawLines(page, content, **pictures);
        drawMotions(page, content, **pictures);
        drawCarrying(page, content, **pictures);
        drawLifts(page, content);
        drawPacking(page, content.packing);
        drawKnown(page, content);
        bookmarks = page.bookmarks();
    }
    const auto marked =
        addBookmarks(std::string_view(bytes.constData(), static_cast<std::size_t>(bytes.size())), bookmarks);
    if (!marked) return marked.error();
    return files::writeFileAtomically(path, *marked);
}

} // namespace ivrant::print
