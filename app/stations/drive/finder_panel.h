// Desk of the Drive station: trains for a ratio, and where two wheels mesh.
#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QTableWidget>

#include "app/shell/session.h"
#include "core/drive/ratio_search.h"

namespace ivrant::app {

class FinderPanel : public QWidget {
    Q_OBJECT
public:
    explicit FinderPanel(QWidget* parent = nullptr);
    /// Takes a wanted ratio and searches.
    void look(const QString& ratio);
    [[nodiscard]] QLineEdit* ratioEdit() { return m_ratio; }

signals:
    void placeAsked(const drive::FoundTrain& train);

private:
    void search();
    void listFits();
    void place();

    QLineEdit *m_ratio, *m_tolerance, *m_pair;
    QComboBox *m_stages, *m_hold, *m_sense;
    QCheckBox* m_holes;
    QLabel *m_found, *m_fitText;
    QTableWidget *m_trains, *m_fits;
    std::vector<drive::FoundTrain> m_rows;
};

} // namespace ivrant::app
