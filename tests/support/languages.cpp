#include "support/languages.h"

#include "core/text/word_order.h"
#include "support/sheet.h"

#include <unicode/unistr.h>
#include <unicode/ushape.h>

#include <algorithm>
#include <map>
#include <random>
#include <sstream>

namespace yelvin::test {

namespace {

struct Writing {
    const char* face;
    std::vector<const char*> sentences; // invented for these pages
};

// Japanese and Chinese text is divided where a line may end.
const std::map<std::string, Writing>& writings() {
    static const std::map<std::string, Writing> all{
        {"eng",
         {"Liberation Serif",
          {"The lower basin will be drained on Monday for the yearly inspection of its walls.",
           "Please move your boat to the upper landing before seven in the evening.",
           "Keys to the wash house are kept by the warden, who lives at the second lock.",
           "We thank you for your letter of 14 March and answer its questions one by one.",
           "No fires may be lit on the towpath, nor within nine yards of the timber store.",
           "The keeper opens at eight, closes at dusk and rests an hour at noon."}}},
        {"deu",
         {"Liberation Serif",
          {"Das untere Becken wird am Montag für die jährliche Prüfung seiner Mauern geleert.",
           "Bitte legen Sie Ihr Boot vor sieben Uhr abends an die obere Anlegestelle um.",
           "Die Schlüssel zum Waschhaus verwahrt der Wärter, der an der zweiten Schleuse wohnt.",
           "Wir danken für Ihr Schreiben vom 14. März und beantworten Ihre Fragen der Reihe nach.",
           "Auf dem Treidelweg dürfen keine Feuer gemacht werden, auch nicht neben dem Holzlager.",
           "Der Schleusenwärter öffnet um acht, schließt bei Dämmerung und ruht mittags eine Stunde."}}},
        {"fra",
         {"Liberation Serif",
          {"Le bassin inférieur sera vidé lundi pour la visite annuelle de ses murs.",
           "Veuillez déplacer votre bateau vers le ponton supérieur avant sept heures du soir.",
           "Les clés du lavoir sont gardées par le gardien, qui habite près de la deuxième écluse.",
           "Nous vous remercions de votre lettre du 14 mars et répondons à vos questions une à une.",
           "Il est défendu de faire du feu sur le chemin de halage ou près du dépôt de bois.",
           "L'éclusier ouvre à huit heures, ferme à la tombée du jour et se repose à midi."}}},
        {"pol",
         {"Liberation Serif",
          {"Dolny basen zostanie opróżniony w poniedziałek z powodu corocznego przeglądu ścian.",
           "Prosimy przestawić łódź do górnej przystani przed siódmą wieczorem.",
           "Klucze do pralni przechowuje dozorca, który mieszka przy drugiej śluzie.",
           "Dziękujemy za list z 14 marca i odpowiadamy na pytania po kolei.",
           "Nie wolno rozpalać ognia na ścieżce ani w pobliżu składu drewna.",
           "Śluzowy otwiera o ósmej, zamyka o zmierzchu i odpoczywa godzinę w południe."}}},
        {"ell",
         {"Liberation Serif",
          {"Η κάτω δεξαμενή θα αδειάσει τη Δευτέρα για τον ετήσιο έλεγχο των τοίχων της.",
           "Παρακαλούμε να μεταφέρετε το σκάφος σας στην πάνω αποβάθρα πριν από τις επτά.",
           "Τα κλειδιά του πλυντηρίου φυλάσσει ο επιστάτης που μένει στη δεύτερη θύρα.",
           "Σας ευχαριστούμε για την επιστολή σας και απαντούμε στις ερωτήσεις μία προς μία.",
           "Απαγορεύεται το άναμμα φωτιάς στο μονοπάτι και κοντά στην αποθήκη ξυλείας.",
           "Ο φύλακας ανοίγει στις οκτώ, κλείνει το σούρουπο και ξεκουράζεται το μεσημέρι."}}},
        {"heb",
         {"Liberation Serif",
          {"האגן התחתון ירוקן ביום שני לצורך הבדיקה השנתית של הקירות.",
           "נא להעביר את הסירה אל הרציף העליון לפני השעה שבע בערב.",
           "המפתחות של המכבסה נמצאים אצל השומר אשר גר ליד השער השני.",
           "אנו מודים לך על המכתב מיום 14 במרץ ועונים על השאלות אחת לאחת.",
           "אסור להדליק אש על השביל ולא בקרבת מחסן העצים.",
           "השומר פותח בשעה שמונה, סוגר עם רדת הערב ונח שעה בצהריים."}}},
        {"jpn",
         {"IPAGothic",
          {"下の 水門は 月曜日に 壁の 年次 点検の ため 水を 抜きます。",
           "夕方 七時 までに 船を 上の 桟橋へ 移して ください。",
           "洗濯場の 鍵は 二番目の 水門に 住む 管理人が 持って います。",
           "三月の お手紙に 感謝し、 ご質問に 一つずつ お答え します。",
           "小道や 材木 倉庫の 近くで 火を 使う ことは 禁止 されて います。",
           "管理人は 八時に 開け、 夕方に 閉め、 正午に 一時間 休みます。"}}},
        {"chi_sim",
         {"WenQuanYi Micro Hei",
          {"下面的 水闸 将在 星期一 放水， 以便 每年 检查 墙壁。", "请在 晚上 七点 以前 把船 移到 上面的 码头。",
           "洗衣房的 钥匙 由住在 第二个 水闸 旁边的 看守人 保管。",
           "感谢 您在 三月的 来信， 我们 逐一 回答 您的 问题。", "禁止 在小路上 和木材 仓库 附近 生火。",
           "看守人 八点 开门， 傍晚 关门， 中午 休息 一个 小时。"}}},
        {"kor",
         {"WenQuanYi Micro Hei",
          {"아래 수문은 월요일에 벽을 점검하기 위해 물을 뺍니다.",
           "저녁 일곱 시까지 배를 위쪽 선착장으로 옮겨 주십시오.",
           "세탁장 열쇠는 두 번째 수문 옆에 사는 관리인이 보관합니다.",
           "삼월에 보내 주신 편지에 감사드리며 질문에 하나씩 답변합니다.",
           "오솔길이나 목재 창고 근처에서 불을 피우는 것은 금지되어 있습니다.",
           "관리인은 여덟 시에 문을 열고 해가 지면 닫으며 정오에 한 시간 쉽니다."}}},
        {"ara",
         {"DejaVu Sans",
          {"سيتم تفريغ الحوض السفلي يوم الاثنين من أجل الفحص السنوي للجدران.",
           "يرجى نقل القارب إلى الرصيف العلوي قبل الساعة السابعة مساء.",
           "مفاتيح المغسلة موجودة لدى الحارس الذي يسكن بجانب البوابة الثانية.",
           "نشكركم على رسالتكم في شهر مارس ونجيب عن الأسئلة واحدا بعد الآخر.",
           "يمنع إشعال النار على الطريق أو بالقرب من مخزن الخشب.",
           "يفتح الحارس في الساعة الثامنة ويغلق عند الغروب ويستريح عند الظهر."}}}};
    return all;
}

bool has_no_spaces(const std::string& language) { return language == "jpn" || language == "chi_sim"; }

// The text as it is on paper, from the left, with Arabic letters joined.
std::string printed(const std::string& word) {
    const auto text = icu::UnicodeString::fromUTF8(in_visual_order(word));
    std::vector<UChar> joined(2 * static_cast<size_t>(text.length()) + 1);
    UErrorCode failed = U_ZERO_ERROR;
    const int length =
        u_shapeArabic(text.getBuffer(), text.length(), joined.data(), static_cast<int>(joined.size()),
                      U_SHAPE_LETTERS_SHAPE | U_SHAPE_TEXT_DIRECTION_VISUAL_LTR | U_SHAPE_LENGTH_GROW_SHRINK, &failed);
    std::string out;
    return U_SUCCESS(failed) ? icu::UnicodeString(joined.data(), length).toUTF8String(out) : word;
}

// Draws the sentences of the language from `y` on (mm) and returns where they end.
double set_lines(Sheet& sheet, LanguagePage& page, const std::string& language, unsigned seed, double y, size_t count) {
    const Writing& writing = writings().at(language);
    const bool leftwards = language == "heb" || language == "ara", spaced = !has_no_spaces(language);
    std::mt19937 random(seed);
    std::vector<const char*> sentences = writing.sentences;
    std::shuffle(sentences.begin(), sentences.end(), random);
    sentences.resize(count);
    Look look{writing.face, 10.0 + seed % 3};
    sheet.face(look);
    const double lead = 1.5 * look.points * 25.4 / 72, left = 14, right = width_mm - 14;
    const double space = spaced ? sheet.wide(" ") : 0;
    double along = 0;
    page.lines.emplace_back();
    y += lead;
    for (const char* sentence : sentences) {
        std::istringstream in(sentence);
        for (std::string word; in >> word;) {
            const double wide = sheet.wide(printed(word));
            if (along + wide > right - left) {
                along = 0, y += lead;
                page.lines.emplace_back();
            }
            sheet.word(leftwards ? right - along - wide : left + along, y, printed(word));
            page.lines.back().push_back(word);
            along += wide + space;
        }
    }
    return y;
}

Raster taken(Sheet& sheet) {
    cv::Mat shares, grey;
    shares = sheet.take();
    shares.convertTo(shares, CV_8UC3, 255);
    cv::cvtColor(shares, grey, cv::COLOR_BGR2GRAY);
    return {grey, 300, Ink::Grey};
}

}

std::string LanguagePage::text() const {
    std::string out;
    for (const auto& line : lines) {
        for (const std::string& word : line)
            out += word + (has_no_spaces(language) || &word == &line.back() ? "" : " ");
        out += '\n';
    }
    return out;
}

std::vector<std::string> page_languages() {
    return {"eng", "deu", "fra", "pol", "ell", "heb", "ara", "jpn", "chi_sim", "kor"};
}

LanguagePage language_page(const std::string& language, unsigned seed) {
    Sheet sheet(300);
    sheet.colour({0.05, 0.05, 0.05});
    LanguagePage page{language, {}, {}};
    set_lines(sheet, page, language, seed, 12, 5);
    page.page = taken(sheet);
    return page;
}

LanguagePage two_languages(const std::string& first, const std::string& second, unsigned seed) {
    Sheet sheet(300);
    sheet.colour({0.05, 0.05, 0.05});
    LanguagePage page{first, {}, {}};
    const double y = set_lines(sheet, page, first, seed, 12, 4);
    set_lines(sheet, page, second, seed, y + 8, 2);
    page.page = taken(sheet);
    return page;
}

}
