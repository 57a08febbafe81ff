// Small parts that the pages of the Tray share.
#pragma once
#include <QHeaderView>
#include <QLabel>
#include <QPlainTextEdit>
#include <QScrollBar>
#include <QTableWidget>

#include "core/base/problem.h"
#include "draw/look.h"

namespace mossbed {

inline void fit_height(QTableWidget* t) {
    int h = t->horizontalHeader()->height() + 4;
    for (int i = 0; i < t->rowCount(); ++i) h += t->rowHeight(i);
    t->setFixedHeight(h +
                      (t->horizontalScrollBar()->maximum() > 0 ? t->horizontalScrollBar()->sizeHint().height() : 0));
}

inline QTableWidgetItem* cell(QTableWidget* t, int row, int column, const QString& text, bool editable,
                              bool right = true) {
    QTableWidgetItem* i = t->item(row, column);
    if (!i) t->setItem(row, column, i = new QTableWidgetItem);
    if (i->text() != text) i->setText(text);
    i->setTextAlignment((right ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    i->setFlags(editable ? Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable
                         : Qt::ItemIsEnabled | Qt::ItemIsSelectable);
    return i;
}

class Desk;
void read_report_asked(Desk* desk, QWidget* parent);  // asks for the file

inline QString bold(const QString& s) { return "<b>" + s + "</b>"; }
// What an older answer says, while a hand moves.
inline QString faded(const QString& s) { return "<span style='color:" + look::standard.name() + "'>" + s + "</span>"; }
// A label of its own that says something of before an edit.
inline void fade(QLabel* l, bool of_before) {
    if (l->property("of-before").toBool() == of_before) return;
    l->setProperty("of-before", of_before);
    l->setStyleSheet(of_before ? "color: " + look::standard.name() : QString());
}
inline QString q(const std::string& s) { return QString::fromStdString(s); }
inline QString count_of(size_t n, const char* thing) {  // "1 row", "3 rows"
    return look::number(double(n), 0) + " " + thing + (n == 1 ? "" : "s");
}
// "C1+C2+C3", or of a group whose names would not fit the first two and how many more.
inline QString name_of_group(const std::string& joined) {
    const QStringList names = q(joined).split('+');
    if (joined.size() <= 24 || names.size() < 4) return q(joined);
    return names[0] + "+" + names[1] + " and " + look::number(double(names.size() - 2), 0) + " more";
}
// The same where there is hardly room for two: "C1+4 999".
inline QString short_name_of_group(const std::string& joined) {
    const QStringList names = q(joined).split('+');
    return joined.size() <= 14 || names.size() < 3 ? q(joined)
                                                   : names[0] + "+" + look::number(double(names.size() - 1), 0);
}

// All sentences of one kind, each on a line of its own, in a field of a few lines that scrolls.
inline QPlainTextEdit* sentences(const std::vector<std::string>& all, const char* name, int lines) {
    auto* t = new QPlainTextEdit;
    QStringList text;
    for (const std::string& s : all) text << q(s);
    t->setPlainText(text.join("\n"));
    t->setReadOnly(true);
    t->setObjectName(name);
    const int shown = std::clamp(int(all.size()) * 2, 2, lines);
    t->setFixedHeight(shown * t->fontMetrics().lineSpacing() + 12);
    return t;
}
inline std::vector<std::string> sentences_of(const std::vector<Problem>& problems, Severity severity) {
    std::vector<std::string> out;
    for (const Problem& p : problems)
        if (p.severity == severity) out.push_back(p.sentence());
    return out;
}

}  // namespace mossbed
