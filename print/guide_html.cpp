// SPDX-License-Identifier: GPL-3.0-or-later
#include <QBuffer>

#include "core/base/units.h"
#include "core/files/atomic_file.h"
#include "core/files/sheet_content.h"
#include "core/files/sheet_drive.h"
#include "core/parts/palette.h"
#include "print/board_sheet.h"
#include "print/guide.h"
#include "print/html_words.h"
#include "print/markup_text.h"
#include "print/pictures.h"

namespace ivrant::print {
namespace {

constexpr const char* kStyle = R"(<style>
body{font-family:Inter,sans-serif;color:#20303A;background:#fff;margin:2em auto;max-width:60em;font-size:11pt}
h1{font-weight:600}h2{border-bottom:1px solid #1F7A80;padding-bottom:.2em;margin-top:2em}
table{border-collapse:collapse;width:100%}th{text-align:left;font-weight:600}td,th{padding:.25em .6em .25em 0;vertical-align:top;border-bottom:1px solid #e6dfd0}
.fail{color:#A83A1D}.thin{color:#7A5A00}.good{color:#3E632C}.steps{display:grid;grid-template-columns:1fr 1fr;gap:1em}
.step{border:1px solid #e6dfd0;padding:.6em;break-inside:avoid}.step img{max-width:100%;height:auto}
.step.now{outline:3px solid #1F7A80}.step.done{opacity:.55}.step label{float:right}.step b.number{color:#1F7A80;font-size:150%;margin-right:.4em}
.tray img{vertical-align:middle}.tray span{display:inline-block;margin:.2em .8em .2em 0}.note{color:#55636b;font-size:9.5pt}
.strip{height:3mm;border:1px solid #20303A;background:#F2EDE0;box-sizing:border-box;margin-top:.4em}
.caution{border-left:4px solid #C9502B;padding-left:.8em;margin:.5em 0}
</style>)";

/// Steps are ticked off and turned by the arrow keys; what is ticked and the place are kept by the browser, by `title`.
/// Without scripts all of it is there to read.
constexpr const char* kTicks = R"(<script>
(function(){var key="steps "+document.title,steps=[].slice.call(document.querySelectorAll(".step")),now=0,kept={};
try{kept=JSON.parse(localStorage.getItem(key))||{}}catch(e){}
function keep(){try{localStorage.setItem(key,JSON.stringify(kept))}catch(e){}}
function show(i,far){steps[now].classList.remove("now");now=Math.max(0,Math.min(steps.length-1,i));
steps[now].classList.add("now");if(far)steps[now].scrollIntoView({block:"center"});kept.at=now;keep()}
if(!steps.length)return;
steps.forEach(function(step,i){var box=step.querySelector("input");
function mark(){step.classList.toggle("done",box.checked)}
box.checked=!!kept[i];mark();
box.addEventListener("change",function(){kept[i]=box.checked;mark();keep()});
step.addEventListener("click",function(){show(i)})});
show(kept.at||0,!!kept.at);
document.addEventListener("keydown",function(e){
if(e.key==="ArrowRight"||e.key==="PageDown"){show(now+1,true);e.preventDefault()}
else if(e.key==="ArrowLeft"||e.key==="PageUp"){show(now-1,true);e.preventDefault()}
else if(e.key===" "&&e.target.tagName!=="INPUT"){steps[now].querySelector("input").click();show(now+1,true);e.preventDefault()}})})();
</script>)";

std::string stepText(const files::SheetStep& step, const StepView& view, Pictures& drawn) {
    const std::string number = std::to_string(step.step.number);
    std::string html = "<div class=\"step\" id=\"step" + number +
                       "\"><label><input type=\"checkbox\"> done</label><b class=\"number\">" + number + "</b><b>" +
                       escape(step.title) + "</b>" +
                       (step.copies > 1 ? " · " + std::to_string(step.copies) + "×" : "") + "<br>" +
                       imageTag(drawn.step(step, view, 840, 520), "step " + number, 420) + "<div class=\"tray\">";
    for (const auto& line : step.step.tray)
        html += "<span>" + std::to_string(line.count) + "× " +
                imageTag(drawn.part(line.shape, line.colour, 120), line.shape, 36) + " " + escape(line.shape) + " " +
                escape(parts::getColourName(line.colour)) + "</span>";
    html += "</div>";
    for (const files::TrueSize& length : step.lengths)
        html += "<div class=\"strip\" style=\"width:" + base::formatNumber(length.mm, 1) +
                "mm\"></div><p class=\"note\">" + escape(length.shape) + ": " + base::formatNumber(length.mm, 1) +
                " mm, true size when printed at 100 %</p>";
    if (view.turned) html += "<p>Turn the model: it is seen from another side now.</p>";
    if (!view.away.empty()) html += "<p>" + escape(kAwayNote) + "</p>";
    for (const auto& note : step.notes) html += "<p>" + escape(note) + "</p>";
    return html + "</div>\n";
}

std::string driveText(const verdict::Report& report) {
    const auto sheet = files::makeSheetDrive(report);
    const auto state = makeDriveState(report);
    std::string html;
    for (const auto& board : sheet.boards) {
        html += "<h2>Gear board: " + escape(board.name) + "</h2>\n<p>" + escape(board.place) +
                "; drawn in true size, holes numbered by fives.</p>\n";
        const std::string svg = makeBoardSvg(*state, board.board).toStdString();
        html += svg.substr(std::min(svg.size(), svg.find("<svg"))) + "\n<table>\n" +
                row({"Wheel", "On", "Hole", "Layer", "Meshes with"}, "th");
        for (const auto& w : board.wheels)
            html += row({escape(w.wheel), escape(w.shaft), w.hole, w.layer, escape(w.meshes)});
        html += "</table>\n<table>\n" + row({"Shaft", ""}, "th");
        for (const auto& [name, text] : board.shafts) html += row({escape(name), escape(text)});
        html += "</table>\n";
    }
    if (!sheet.functions.empty()) {
        html += "<h2>Functions</h2>\n<table>\n" +
                row({"Function", "Selector", "Motor", "Ratio", "Speed", "Travel", "Asks", "Margin", "Power off"}, "th");
        for (const auto& f : sheet.functions)
            html += row({escape(f.function), escape(f.position), escape(f.motor), f.ratio, f.speed, f.travel, f.asks,
                         f.margin, f.holds});
        html += "</table>\n";
    }
    if (!sheet.wires.empty()) {
        html += "<h2>Wiring</h2>\n<table>\n" + row({"Motor", "Kind", "Port", "On", "Moves"}, "th");
        for (const auto& w : sheet.wires)
            html += row({escape(w.motor), escape(w.line), w.port, escape(w.board), escape(w.moves)});
        html += "</table>\n";
        for (const auto& line : sheet.reach) html += "<p>" + escape(line) + "</p>\n";
    }
    if (!sheet.spares.empty()) {
        html += "<h2>To take along</h2>\n<table>\n" + row({"Spare", "Why"}, "th");
        for (const auto& [part, why] : sheet.spares) html += row({escape(part), escape(why)});
        html += "</table>\n";
    }
    for (const auto& caution : sheet.cautions) html += "<p class=\"caution\">" + escape(caution) + "</p>\n";
    return html;
}

std::string liftsText(const files::SheetContent& content) {
    if (content.lifts.empty()) return "";
    std::string html = "<h2>What lifts off</h2>\n<table>\n" + row({"", "How", "Force", "First", "Mind"}, "th");
    for (const auto& lift : content.lifts)
        html += row({escape(lift.name), escape(lift.way), escape(lift.force), escape(lift.first), escape(lift.mind)});
    return html + "</table>\n";
}

std::string packingText(const files::SheetPacking& packing) {
    if (packing.boxes.empty()) return "";
    std::string html = "<h2>Packing and putting up</h2>\n<p>" + escape(packing.about) + "</p>\n<table>\n";
    for (const auto& [box, pieces] : packing.boxes) html += row({escape(box), escape(pieces)});
    html += "</table>\n<table>\n" + row({"Putting up", ""}, "th");
    for (const auto& [what, minutes] : packing.putUp) html += row({escape(what), escape(minutes)});
    html += "</table>\n";
    if (packing.bring.empty()) return html;
    html += "<table>\n" + row({"Bring", "Why"}, "th");
    for (const auto& [what, why] : packing.bring) html += row({escape(what), escape(why)});
    return html + "</table>\n";
}

} // namespace

base::Status writeGuideHtml(const verdict::Report& report, const std::string& path, base::Progress* progress) {
    const GuiGuard gui;
    auto pictures = Pictures::create(report);
    if (!pictures) return pictures.error();
    Pictures& drawn = **pictures;
    const auto content = files::makeSheetContent(report);
    std::string html = "<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>" +
                       escape(content.title) + "</title>" + kStyle + "</head><body>\n";
    html += "<h1>" + escape(content.title) + "</h1>\n" + imageTag(drawn.cover(1200, 800), content.title, 720) +
            "\n<table>\n";
    for (const auto& [name, value] : content.figures) html += row({escape(name), escape(value)});
    html += "</table>\n";
    for (const auto& caution : content.cautions) html += "<p class=\"caution\">" + escape(caution) + "</p>\n";
    html += "<h2>Parts</h2>\n<table>\n" + row({"", "Count", "Part", "Colour", "Each"}, "th");
    for (const auto& line : content.parts)
        html += row({imageTag(drawn.part(line.shape, line.colour, 120), line.shape, 48), std::to_string(line.count),
                     escape(line.shape), escape(parts::getColourName(line.colour)),
                     base::formatNumber(line.eachG, 2) + " g"});
    for (const auto& line : content.ballast)
        html += row({"", "1", "ballast in " + escape(line.section), "", base::formatNumber(line.massG, 0) + " g"});
    html += "</table>\n";
    if (!content.choices.empty()) {
        html += "<h2>Choices</h2>\n<table>\n" + row({"Place", "Choice", "Parts", ""}, "th");
        for (const auto& choice : content.choices)
            html += row({escape(choice.option), escape(choice.alternative),
                         escape(choice.parts.empty() ? "none" : choice.parts),
                         choice.built ? "in these steps" : escape(choice.text)});
        html += "</table>\n";
    }
    html += "<h2>Steps</h2>\n<p class=\"note\">Arrow keys turn the steps, the space bar ticks one off.</p>\n<div "
            "class=\"steps\">\n";
    const auto views = drawn.chooseViews(content.steps, progress);
    for (std::size_t i = 0; i < content.steps.size(); ++i) {
        if (progress && progress->stopped()) return base::Error{"stopped", "stopped; nothing was written", ""};
        html += stepText(content.steps[i], views[i], drawn);
        if (progress) progress->report(static_cast<double>(i + 1) / static_cast<double>(content.steps.size()));
    }
    html += "</div>\n";
    if (report.drive) html += driveText(report);
    html += "<h2>Joints</h2>\n<table>\n" + row({"Joint", "Kind", "Wanted", "Free", "Holds: needs of has, N·mm"}, "th");
    for (const auto& j : content.joints)
        html += row({escape(j.name), escape(j.kind), escape(j.wanted), escape(j.free), escape(j.hold)});
    html += "</table>\n";
    for (const auto& line : content.lines) {
        html += "<h2>" + escape(line.name) + "</h2>\n" +
                imageTag(drawn.threading(line.study, 1200, 800), "the way of " + line.name, 720) + "<ol>\n";
        for (const std::string& guide : line.guides) html += "<li>" + escape(guide) + "</li>\n";
        html += "</ol>\n";
        for (const std::string& text : line.lines) html += "<p>" + escape(text) + "</p>\n";
    }
    for (const auto& motion : content.motions) {
        html += "<h2>How it moves: " + escape(motion.name) + "</h2>\n" +
                imageTag(drawn.motion(motion.study, 1600), "eight places of " + motion.name, 900);
        for (const std::string& line : motion.lines) html += "<p>" + escape(line) + "</p>\n";
    }
    if (!content.carrying.rows.empty()) {
        html += "<h2>Carrying and transport</h2>\n" +
                imageTag(drawn.carrying(content.carrying, 900, 675), "where to lift", 480) + "\n<p class=\"note\">" +
                escape(content.carrying.legend) + "</p>\n<table>\n";
        for (const auto& [what, how] : content.carrying.rows) html += row({escape(what), escape(how)});
        html += "</table>\n";
    }
    html += liftsText(content) + packingText(content.packing);
    html += "<h2>Known weak points</h2>\n<table>\n" + row({"", "Margin", "What", "", "Basis"}, "th");
    for (const auto& v : content.verdicts) {
        const std::string state = verdict::getStateName(v.state);
        html += row({"<span class=\"" + state + "\">" + state + "</span>", escape(v.margin), escape(v.text),
                     escape(v.detail), escape(v.basis)});
    }
    html += "</table>\n<p class=\"note\">" + escape(content.passing + " " + content.basisNote) + "</p>\n";
    html += kTicks;
    html += "</body></html>\n";
    return files::writeFileAtomically(path, html);
}

} // namespace ivrant::print
