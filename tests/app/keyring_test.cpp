// The desktop's real keyring: gnome-keyring on a bus of its own, and a desktop without any keyring.
#include "app/secrets/system_keyring.h"
#include "app/window_fixture.h"

#include <QCoreApplication>
#include <QProcess>

namespace yelvin::test {
namespace {

std::optional<Secret> read_from(SystemKeyring& keyring, const QString& key) {
    std::optional<std::optional<Secret>> found;
    QObject asking;
    keyring.read(key, {&asking, [&](const std::optional<Secret>& secret) { found = secret; }});
    EXPECT_TRUE(QTest::qWaitFor([&] { return found.has_value(); }, patience_ms));
    return found.value_or(std::nullopt);
}

std::optional<bool> written(SystemKeyring& keyring, const QString& key, const Secret& secret) {
    std::optional<bool> kept;
    QObject asking;
    keyring.write(key, secret, {&asking, [&](bool is) { kept = is; }});
    EXPECT_TRUE(QTest::qWaitFor([&] { return kept.has_value(); }, patience_ms));
    return kept;
}

// Run by the test below in an environment with a keyring.
TEST(InKeyring, DISABLED_APasswordIsSavedAndDeleted) {
    const QString key = "Leases/open";
    {
        SystemKeyring keyring;
        EXPECT_FALSE(read_from(keyring, key));
        EXPECT_EQ(written(keyring, key, Secret("Pass — Wort")), true);
    }
    SystemKeyring another;
    EXPECT_EQ(read_from(another, key), Secret("Pass — Wort"));
    EXPECT_FALSE(read_from(another, "Leases/owner"));
    another.forget(key);
    EXPECT_TRUE(QTest::qWaitFor([&] { return !read_from(another, key); }, patience_ms));
}

TEST(SystemKeyring, SavesPasswordsInTheDesktopsKeyring) {
    QProcess session;
    session.setProcessChannelMode(QProcess::MergedChannels);
    session.start("dbus-run-session",
                  {"--", "sh", "-c",
                   "printf unlocked | gnome-keyring-daemon --unlock --components=secrets > /dev/null 2>&1\n"
                   "exec \"$0\" --gtest_also_run_disabled_tests --gtest_filter='InKeyring.*'",
                   QCoreApplication::applicationFilePath()});
    ASSERT_TRUE(session.waitForFinished(patience_ms)) << qPrintable(session.errorString());
    const QByteArray said = session.readAll();
    EXPECT_EQ(session.exitCode(), 0) << said.constData();
    EXPECT_TRUE(said.contains("[  PASSED  ] 1 test.")) << said.constData();
}

TEST(SystemKeyring, WithoutAKeyringNothingIsSaved) {
    const QByteArray bus = qgetenv("DBUS_SESSION_BUS_ADDRESS");
    qputenv("DBUS_SESSION_BUS_ADDRESS", "unix:path=/nowhere/at/all");
    {
        SystemKeyring keyring;
        EXPECT_EQ(written(keyring, "Leases/open", Secret("nowhere else")), false);
        EXPECT_FALSE(read_from(keyring, "Leases/open"));
    }
    qputenv("DBUS_SESSION_BUS_ADDRESS", bus);
    if (bus.isEmpty()) qunsetenv("DBUS_SESSION_BUS_ADDRESS");
}

}
}
