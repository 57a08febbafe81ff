#include "app/message_strip.h"

#include <QEvent>
#include <QStyle>
#include <algorithm>

namespace mossbed {

MessageStrip::MessageStrip(QWidget* host, Qt::Edge edge, const QString& name, std::function<QRect()> area)
    : QFrame(host), host_(host), edge_(edge), area_(std::move(area)) {
    setObjectName(name);
    row_ = new QHBoxLayout(this);
    row_->setContentsMargins(12, 4, 8, 4);
    text_ = new QLabel;
    text_->setObjectName(name + "-text");
    text_->setWordWrap(true);
    row_->addWidget(text_, 1);
    host->installEventFilter(this);
    gone_.setSingleShot(true);
    gone_.setInterval(12000);
    connect(&gone_, &QTimer::timeout, this, &QWidget::hide);
    hide();
}

void MessageStrip::say(const QString& sentence, bool bad) {
    text_->setText(sentence);
    setProperty("bad", bad);
    style()->unpolish(this);
    style()->polish(this);
    bad ? gone_.stop() : gone_.start();
    show();
    place();
    raise();
}

void MessageStrip::place() {
    const QRect in = area_();
    const int w = std::min(in.width() - 24, 900);
    if (w < 40) return;
    const int h = std::max(layout()->hasHeightForWidth() ? layout()->heightForWidth(w) : 0, sizeHint().height());
    setGeometry(in.left() + (in.width() - w) / 2, edge_ == Qt::TopEdge ? in.top() + 8 : in.bottom() - h - 8, w, h);
}

void MessageStrip::showEvent(QShowEvent* e) {
    QFrame::showEvent(e);
    place();
}

bool MessageStrip::eventFilter(QObject* of, QEvent* e) {
    if (of == host_ && e->type() == QEvent::Resize && isVisible()) place();
    return QFrame::eventFilter(of, e);
}

}  // namespace mossbed
