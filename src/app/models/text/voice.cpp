#include "app/models/text/voice.h"

#include <QLocale>
#include <QTextToSpeech>
#include <QVoice>

#include <utility>

namespace yelvin {

SystemVoice::~SystemVoice() {
    thread_.quit();
    thread_.wait();
}

void SystemVoice::look_for() {
    if (there_ || QTextToSpeech::availableEngines().isEmpty()) return;
    there_ = new QObject;
    there_->moveToThread(&thread_);
    connect(&thread_, &QThread::finished, there_, &QObject::deleteLater);
    connect(&thread_, &QThread::started, there_, [this] { begin(); });
    thread_.start();
}

// Called on the voice's own thread.
void SystemVoice::begin() {
    speech_ = new QTextToSpeech(there_);
    if (speech_->state() == QTextToSpeech::Error || speech_->availableVoices().isEmpty()) return;
    connect(speech_, &QTextToSpeech::stateChanged, this, [this](QTextToSpeech::State state) {
        if (state != QTextToSpeech::Ready && state != QTextToSpeech::Error) return;
        if (std::exchange(speaks_, false)) emit ended();
    });
    QMetaObject::invokeMethod(this, [this] {
        is_there_ = true;
        emit found();
    });
}

void SystemVoice::say(const QString& words, const std::string& language) {
    if (!is_there_) return;
    const QLocale::Language spoken =
        QLocale::codeToLanguage(QString::fromStdString(language), QLocale::ISO639Part2T | QLocale::ISO639Part2B);
    speaks_ = true;
    QMetaObject::invokeMethod(there_, [this, words, spoken] {
        for (const QLocale& locale : speech_->availableLocales()) {
            if (locale.language() != spoken || speech_->locale().language() == spoken) continue;
            speech_->setLocale(locale);
            break;
        }
        speech_->say(words);
    });
}

void SystemVoice::stop() {
    speaks_ = false;
    if (is_there_) QMetaObject::invokeMethod(there_, [this] { speech_->stop(); });
}

}
