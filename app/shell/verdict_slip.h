// SPDX-License-Identifier: GPL-3.0-or-later
// The verdict slip: all verdicts in groups, worst first, beside whatever is being done; below the chosen one, what
// would mend it.
#pragma once

#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>

#include "app/shell/session.h"
#include "app/shell/slip_rows.h"

namespace ivrant::app {

class VerdictSlip : public QWidget {
    Q_OBJECT
public:
    explicit VerdictSlip(Session& session, QWidget* parent = nullptr);
    [[nodiscard]] QListWidget* list() { return m_list; }
    /// Failing lines of a station.
    [[nodiscard]] int countFails(verdict::Station station) const;
    /// One for each line: the worst verdict behind it, with the line's own text.
    [[nodiscard]] std::vector<verdict::Verdict> shown() const;
    [[nodiscard]] const std::vector<SlipRow>& rows() const { return m_rows; }

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

signals:
    void picked(const ivrant::verdict::Verdict& verdict);
    void counted();

private:
    void showReport();
    void fillRows(const std::string& keep);
    [[nodiscard]] bool opens(int row) const;
    [[nodiscard]] bool isBundle(int row) const;
    void setOpen(int row, std::optional<bool> open); ///< none: the other way round
    void clearMends();
    void showMends();
    void offerMends(const std::vector<verdict::Mend>& mends);
    [[nodiscard]] QPushButton* makeMendButton(const verdict::Mend& mend);
    void preview(const verdict::Mend& mend);
    [[nodiscard]] const SlipRow* currentRow() const;
    [[nodiscard]] const verdict::Verdict* current() const;

    Session& m_session;
    std::vector<verdict::Group> m_groups;
    std::vector<SlipRow> m_rows;
    std::set<std::string> m_open;
    std::shared_ptr<base::Progress> m_seeking; ///< mends of the chosen line
    int m_seekingTurn = 0; ///< of the search whose finds are shown; another number: they come too late
    QLabel* m_state;
    bool m_entering = false; ///< the list gets the keys and a first row with them
    QListWidget* m_list;
    QLabel* m_detail;
    QLabel* m_mendTitle;
    QWidget* m_mends;
    QVBoxLayout* m_mendLayout;
    QLabel* m_summary;
};

} // namespace ivrant::app
