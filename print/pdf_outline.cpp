// SPDX-License-Identifier: GPL-3.0-or-later
#include "print/pdf_outline.h"

#include <algorithm>
#include <qpdf/qpdf-c.h>

#include "core/base/at.h"

namespace ivrant::print {
namespace {

using Object = qpdf_oh;

/// A document that is being changed.
class Document {
public:
    explicit Document(std::string_view pdf) : m(qpdf_init()) {
        qpdf_silence_errors(m);
        qpdf_set_suppress_warnings(m, QPDF_TRUE);
        m_read = qpdf_read_memory(m, "sheets", pdf.data(), pdf.size(), nullptr) < QPDF_ERRORS;
        if (!m_read) (void)qpdf_get_error(m); // taken: it is told by the caller
    }
    ~Document() { qpdf_cleanup(&m); }
    Document(const Document&) = delete;
    Document& operator=(const Document&) = delete;

    [[nodiscard]] bool isRead() const { return m_read; }
    [[nodiscard]] int pageCount() { return qpdf_get_num_pages(m); }
    [[nodiscard]] Object root() { return qpdf_get_root(m); }
    [[nodiscard]] Object makeEntry() { return qpdf_make_indirect_object(m, qpdf_oh_new_dictionary(m)); }
    [[nodiscard]] Object text(const std::string& utf8) { return qpdf_oh_new_unicode_string(m, utf8.c_str()); }
    [[nodiscard]] Object name(const char* text) { return qpdf_oh_new_name(m, text); }
    [[nodiscard]] Object integer(int value) { return qpdf_oh_new_integer(m, value); }
    void set(Object dictionary, const char* key, Object value) { qpdf_oh_replace_key(m, dictionary, key, value); }
    /// A place on a page, at the scale that the reader has.
    [[nodiscard]] Object makeDestination(int page, double shareDown) {
        const Object at = qpdf_get_page_n(m, static_cast<std::size_t>(page - 1));
        const double height =
            qpdf_oh_get_numeric_value(m, qpdf_oh_get_array_item(m, qpdf_oh_get_key(m, at, "/MediaBox"), 3));
        const Object destination = qpdf_oh_new_array(m);
        qpdf_oh_append_item(m, destination, at);
        qpdf_oh_append_item(m, destination, name("/XYZ"));
        qpdf_oh_append_item(m, destination, qpdf_oh_new_null(m));
        qpdf_oh_append_item(m, destination, qpdf_oh_new_real_from_double(m, height * (1 - shareDown), 1));
        qpdf_oh_append_item(m, destination, qpdf_oh_new_null(m));
        return destination;
    }
    /// None: it could not be written.
    [[nodiscard]] std::optional<std::string> write() {
        if (qpdf_init_write_memory(m) >= QPDF_ERRORS) return std::nullopt;
        qpdf_set_object_stream_mode(m, qpdf_o_generate);
        if (qpdf_write(m) >= QPDF_ERRORS) return std::nullopt;
        return std::string(reinterpret_cast<const char*>(qpdf_get_buffer(m)), qpdf_get_buffer_length(m));
    }

private:
    qpdf_data m;
    bool m_read = false;
};

struct Entry {
    Object object;
    std::vector<std::size_t> children;
};

/// First, last, neighbours and count below one entry.
void hang(Document& document, const std::vector<Entry>& entries, std::size_t parent) {
    const auto& children = entries[parent].children;
    for (std::size_t k = 0; k < children.size(); ++k) {
        const Object child = entries[children[k]].object;
        document.set(child, "/Parent", entries[parent].object);
        if (k > 0) document.set(child, "/Prev", entries[children[k - 1]].object);
        if (k + 1 < children.size()) document.set(child, "/Next", entries[children[k + 1]].object);
        hang(document, entries, children[k]);
    }
    if (children.empty()) return;
    document.set(entries[parent].object, "/First", entries[children.front()].object);
    document.set(entries[parent].object, "/Last", entries[children.back()].object);
    // What a chapter holds is folded in at first: its count is below zero.
    const int count = static_cast<int>(children.size());
    document.set(entries[parent].object, "/Count", document.integer(parent == 0 ? count : -count));
}

} // namespace

base::Result<std::string> addBookmarks(std::string_view pdf, const std::vector<Bookmark>& bookmarks) {
    Document document(pdf);
    if (!document.isRead()) return base::Error{"pdf.write", "these bytes are no PDF", ""};
    std::vector<Entry> entries{{document.makeEntry(), {}}};
    document.set(entries[0].object, "/Type", document.name("/Outlines"));
    std::vector<std::size_t> above{0}; // by level
    for (const Bookmark& bookmark : bookmarks) {
        if (bookmark.page < 1 || bookmark.page > document.pageCount())
            return base::Error{"pdf.write", "a bookmark names page " + std::to_string(bookmark.page), ""};
        const Object object = document.makeEntry();
        document.set(object, "/Title", document.text(bookmark.title));
        document.set(object, "/Dest", document.makeDestination(bookmark.page, bookmark.shareDown));
        above.resize(std::min(static_cast<std::size_t>(std::max(0, bookmark.level)), above.size() - 1) + 1);
        entries.push_back({object, {}});
        entries[above.back()].children.push_back(entries.size() - 1);
        above.push_back(entries.size() - 1);
    }
    hang(document, entries, 0);
    document.set(document.root(), "/Outlines", entries[0].object);
    document.set(document.root(), "/PageMode", document.name("/UseOutlines"));
    auto written = document.write();
    if (!written) return base::Error{"pdf.write", "the bookmarks could not be written", ""};
    return std::move(*written);
}

} // namespace ivrant::print
