// SPDX-License-Identifier: GPL-3.0-or-later
// Which foot stands when: a row for each foot over a turn, filled where it carries. A click or the arrow keys go to a
// place.
#pragma once

#include <QStringList>
#include <QWidget>
#include <vector>

namespace ivrant::app {

class SupportStrip : public QWidget {
    Q_OBJECT
public:
    explicit SupportStrip(QWidget* parent = nullptr);
    /// `stands`: by place, by foot; all places alike far apart. Empty: nothing to show.
    void show(QStringList feet, std::vector<std::vector<char>> stands);
    void setPlace(int place);
    [[nodiscard]] int places() const { return static_cast<int>(m_stands.size()); }
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override { return sizeHint(); }

signals:
    void placeChosen(int place);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] int rowHeight() const;
    [[nodiscard]] int nameWidth() const;
    [[nodiscard]] double xOf(int place) const;
    void choose(double x);

    QStringList m_feet;
    std::vector<std::vector<char>> m_stands;
    int m_place = 0;
};

} // namespace ivrant::app
