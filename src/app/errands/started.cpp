#include "app/errands/started.h"

#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

namespace yelvin {

namespace {
constexpr std::chrono::milliseconds often{50}, seldom{5000};
}

void Started::begin(const std::vector<std::string>& command, std::chrono::milliseconds patience,
                    std::function<void(int status)> ended, QObject* parent) {
    std::vector<std::string> words = command;
    std::vector<char*> arguments;
    for (std::string& word : words) arguments.push_back(word.data());
    arguments.push_back(nullptr);
    posix_spawnattr_t how;
    posix_spawnattr_init(&how);
    posix_spawnattr_setflags(&how, POSIX_SPAWN_SETSID); // it does not end with us
    pid_t process = 0;
    const bool began =
        !words.empty() && ::posix_spawnp(&process, arguments.front(), nullptr, &how, arguments.data(), environ) == 0;
    posix_spawnattr_destroy(&how);
    if (!began) return QTimer::singleShot(0, parent, [ended = std::move(ended)] { ended(-1); });
    new Started(process, patience, std::move(ended), parent);
}

Started::Started(int process, std::chrono::milliseconds patience, std::function<void(int)> ended, QObject* parent)
    : QObject(parent), process_(process), left_(patience), ended_(std::move(ended)) {
    connect(&timer_, &QTimer::timeout, this, &Started::look);
    timer_.start(often);
}

void Started::look() {
    int status = 0;
    const bool over = ::waitpid(process_, &status, WNOHANG) != 0;
    left_ -= often;
    if (ended_ && (over || left_.count() <= 0))
        std::exchange(ended_, nullptr)(!over ? 0 : WIFEXITED(status) ? WEXITSTATUS(status) : -1);
    if (over) return deleteLater();
    if (!ended_) timer_.setInterval(seldom); // Poll until the process has ended, so that no zombie is left.
}

}
