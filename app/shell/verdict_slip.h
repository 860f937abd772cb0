// The verdict slip: all verdicts, worst first, beside whatever is being done; below the chosen one, what would mend it.
#pragma once

#include <QLabel>
#include <QListWidget>
#include <QVBoxLayout>

#include "app/shell/session.h"

namespace ivrant::app {

class VerdictSlip : public QWidget {
    Q_OBJECT
public:
    explicit VerdictSlip(Session& session, QWidget* parent = nullptr);
    [[nodiscard]] QListWidget* list() { return m_list; }
    [[nodiscard]] int countFails(verdict::Station station) const;
    [[nodiscard]] const std::vector<verdict::Verdict>& shown() const { return m_verdicts; }

signals:
    void picked(const ivrant::verdict::Verdict& verdict);
    void counted();

private:
    void showReport();
    void showMends();
    void preview(const verdict::Mend& mend);
    [[nodiscard]] const verdict::Verdict* current() const;

    Session& m_session;
    std::vector<verdict::Verdict> m_verdicts;
    QLabel* m_state;
    QListWidget* m_list;
    QLabel* m_detail;
    QLabel* m_mendTitle;
    QWidget* m_mends;
    QVBoxLayout* m_mendLayout;
    QLabel* m_summary;
};

} // namespace ivrant::app
