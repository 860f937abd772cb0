// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/notice_bar.h"

#include <QHBoxLayout>

namespace ivrant::app {
namespace {
constexpr int kMostWaiting = 4;
}

NoticeBar::NoticeBar(QWidget* parent)
    : QFrame(parent), m_text(new QLabel(this)), m_save(new QPushButton("Save as …", this)) {
    setObjectName("notice");
    setAttribute(Qt::WA_StyledBackground);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(16, 6, 16, 6);
    m_text->setObjectName("noticeText");
    m_text->setTextFormat(Qt::PlainText);
    m_text->setWordWrap(true);
    m_text->setTextInteractionFlags(Qt::TextSelectableByMouse);
    layout->addWidget(m_text, 1);
    m_save->setObjectName("noticeSave");
    layout->addWidget(m_save);
    auto* close = new QPushButton("Understood", this);
    close->setObjectName("noticeClose");
    layout->addWidget(close);
    connect(close, &QPushButton::clicked, this, &NoticeBar::dismiss);
    connect(m_save, &QPushButton::clicked, this, [this] {
        dismiss();
        emit saveElsewhere();
    });
    hide();
}

void NoticeBar::show(const QString& text, bool canSaveElsewhere) {
    m_waiting.removeAll(text);
    m_waiting << text;
    while (m_waiting.size() > kMostWaiting) m_waiting.removeFirst();
    m_text->setText("▼ " + m_waiting.join("\n▼ "));
    m_save->setVisible(canSaveElsewhere);
    setVisible(true);
}

void NoticeBar::dismiss() {
    m_waiting.clear();
    hide();
}

} // namespace ivrant::app
