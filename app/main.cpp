#include <QApplication>
#include <QCommandLineParser>
#include <QScreen>
#include <cstdlib>

#include "app/main_window.h"
#include "app/shots.h"

int main(int argc, char** argv) {
    QApplication app(argc, argv);
    QApplication::setApplicationName("Moss Bed");
    QApplication::setStyle("Fusion");
    mossbed::look::load_fonts();
    QApplication::setFont(mossbed::look::font(mossbed::look::Size::normal));
    QCommandLineParser parser;
    parser.setApplicationDescription("Rafts and mats on soil springs.");
    parser.addHelpOption();
    parser.addPositionalArgument("MODEL", "a .mossbed file to open");
    QCommandLineOption shots("shots", "Write pictures of the main views into FOLDER and leave.", "FOLDER");
    parser.addOption(shots);
    parser.process(app);
    const QStringList files = parser.positionalArguments();
    if (parser.isSet(shots)) return mossbed::make_shots(files.value(0), parser.value(shots));
    mossbed::MainWindow window;
    constexpr int title_bar = 40;  // px, and rims: what the desktop puts round it
    const QSize room = window.screen()->availableSize() - QSize(0, title_bar);
    if (room.width() < window.width() || room.height() < window.height())
        window.showMaximized();
    else
        window.show();
    if (files.isEmpty())
        window.look_for_unsaved();
    else
        window.open_file(files[0]);
    const int code = QApplication::exec();
    // What runs may take a moment to ask for the stop, and it is not worth waiting for: all is written.
    if (!window.end_work_within(std::chrono::milliseconds(200))) std::_Exit(code);
    return code;
}
