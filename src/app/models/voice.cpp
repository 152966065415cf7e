#include "app/models/voice.h"

#include <QLocale>
#include <QTextToSpeech>
#include <QTimer>
#include <QVoice>

namespace yelvin {

SystemVoice::SystemVoice(QObject* parent) : Voice(parent) {
    if (!QTextToSpeech::availableEngines().isEmpty()) QTimer::singleShot(0, this, &SystemVoice::look);
}

SystemVoice::~SystemVoice() = default;

void SystemVoice::look() {
    auto speech = std::make_unique<QTextToSpeech>();
    if (speech->state() == QTextToSpeech::Error || speech->availableVoices().isEmpty()) return;
    speech_ = std::move(speech);
    connect(speech_.get(), &QTextToSpeech::stateChanged, this, [this](QTextToSpeech::State state) {
        if (state == QTextToSpeech::Speaking || state == QTextToSpeech::Paused) return;
        if (std::exchange(speaks_, false)) emit ended();
    });
    emit found();
}

void SystemVoice::say(const QString& words, const std::string& language) {
    const QLocale locale(QLocale::codeToLanguage(QString::fromStdString(language), QLocale::ISO639Part2));
    if (locale.language() != QLocale::C && speech_->availableLocales().contains(locale)) speech_->setLocale(locale);
    speaks_ = true;
    speech_->say(words);
}

void SystemVoice::stop() {
    speaks_ = false;
    if (speech_) speech_->stop();
}

}
