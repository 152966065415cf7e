#include "app/application.h"
#include "app/theme/theme.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>

#include <gtest/gtest.h>
#include <opencv2/core/utility.hpp>

#include <cstdlib>
#include <tuple>

namespace {

// The tests have a desktop of their own, so nothing of the machine's is opened or changed. Libraries look up some of it
// once for each process, so it must exist before anything else starts.
void have_own_desktop(const QTemporaryDir& home) {
    const QString folder = home.filePath("applications");
    QDir().mkpath(folder);
    for (const QString program : {"falls", "opens"}) {
        QFile entry(folder + "/" + program + ".desktop");
        if (!entry.open(QIODevice::WriteOnly)) continue;
        entry.write(QString("[Desktop Entry]\nType=Application\nName=%1\nExec=%1 %f\nMimeType=application/pdf;\n")
                        .arg(program)
                        .toUtf8());
    }
    // Not by QProcess: its child shares the memory in which the thread sanitizer records what this thread does. If both
    // record at the same time, the sanitizer no longer sees this thread's locks.
    std::ignore = std::system(("update-desktop-database '" + folder.toStdString() + "'").c_str());
    qputenv("CUPS_SERVER", home.filePath("no-printers").toUtf8()); // nor printed upon
    for (const char* where : {"XDG_DATA_HOME", "XDG_CONFIG_HOME"}) qputenv(where, home.path().toUtf8());
}

}

int main(int argc, char** argv) {
    if (qEnvironmentVariableIsEmpty("QT_QPA_PLATFORM") && qEnvironmentVariableIsEmpty("DISPLAY"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    cv::setNumThreads(1); // as the program has it, before its pools are there too
    const QTemporaryDir home;
    have_own_desktop(home);
    yelvin::Application application(argc, argv);
    yelvin::theme::apply(application);
    testing::InitGoogleTest(&argc, argv);
    return RUN_ALL_TESTS();
}
