#include "core/paper_facts/paper_words.h"

#include "core/json_text.h"

#include <fmt/format.h>
#include <unicode/normalizer2.h>
#include <unicode/uchar.h>
#include <unicode/unistr.h>

#include <algorithm>
#include <fstream>
#include <span>
#include <sstream>

namespace yelvin {

namespace {

struct Meaning {
    const char* means;
    const char* phrases; // with | between them
};

// Terms that are printed on office documents in the four languages. From memory; common practice, no source. The
// English terms of EN 16931-1 for the contents of an invoice are among them.
constexpr Meaning date_phrases[] = {
    {"own", "date|date of issue|issue date|invoice issue date|invoice date|dated|date of invoice|order date|statement "
            "date|bill date|"
            "letter date|date issued|issued on|issued|tax point|"
            "datum|rechnungsdatum|belegdatum|bestelldatum|ausstellungsdatum|ausgestellt am|briefdatum|angebotsdatum|"
            "date de facture|date de la facture|date facture|date d emission|emis le|emise le|date de commande|date du "
            "devis|en date du|factuurdatum|besteldatum|offertedatum|dagtekening|datum factuur|d d"},
    {"made", "made on|held on|made this|entered into on|geschlossen am|abgeschlossen am|gehalten am|conclu le|tenue "
             "le|tenu le|fait le|gesloten op|gehouden op|vom|du|of|van"},
    {"signed",
     "signed at|signed in|signed on|signed|place and date|unterschrieben in|unterschrieben am|ort datum|ort und "
     "datum|signe a|signe le|fait a|getekend te|getekend op|plaats en datum|plaats datum"},
    {"due",
     "due|due by|due on|due date|payment due by|payment due|payment due date|pay by|payable by|please pay by|to be "
     "paid by|"
     "zahlbar bis|fallig am|fallig bis|falligkeit|falligkeitsdatum|zahlungsziel|zu zahlen bis|bis zum|a payer avant "
     "le|a payer avant|payable avant le|echeance|date d echeance|a regler avant le|date limite|te betalen voor|"
     "vervaldatum|betalen voor|uiterste betaaldatum|voldoen voor|before|until|by|bis|avant le|voor"},
    {"delivery",
     "delivered on|delivery date|date of delivery|delivered|lieferdatum|geliefert am|leistungsdatum|liefertermin|date "
     "de livraison|livre le|leverdatum|geleverd op|shipped on|versanddatum|date d expedition"},
    {"validity",
     "valid until|valid to|valid from|expires|expires on|expiry date|gultig bis|gultig ab|gultig vom|valable jusqu "
     "au|valable jusqu|valable du|geldig tot|geldig van|geldig t m"},
    {"birth",
     "date of birth|born|born on|dob|geburtsdatum|geboren am|geb|geb am|date de naissance|ne le|nee le|ne e le|"
     "geboortedatum|geboren op|geboren"},
    {"next", "next meeting|next meeting on|nachste sitzung|nachster termin|prochaine reunion|prochaine seance|volgende "
             "vergadering|next visit|appointment|termin|rendez vous|afspraak"},
    {"begin",
     "begins on|begins|starts on|starts|from|beginnt am|beginn|ab dem|commence le|debut|a partir du|a compter du|gaat "
     "in op|ingaande|vanaf|ends on|ends|endet am|ende|finit le|fin|eindigt op|eindigt|period|zeitraum|periode"},
    {"theirs",
     "your letter of|your letter|your order of|your message of|ihr schreiben vom|ihre nachricht vom|ihre bestellung "
     "vom|ihr schreiben|votre courrier du|votre lettre du|votre commande du|uw brief van|uw bericht van|uw bestelling "
     "van"},
    {"printed", "printed on|gedruckt am|imprime le|afgedrukt op|amended|version|stand|last updated"},
};

constexpr Meaning number_phrases[] = {
    {"invoice", "n de facture|invoice no|invoice number|invoice|invoice nr|bill no|bill "
                "number|rechnungsnummer|rechnungsnr|rechnungs nr|rechnung "
                "nr|rechnung nummer|rechnung|facture n|facture no|facture numero|numero de facture|n de facture|n "
                "facture|facture|factuurnummer|factuurnr|factuur nr|factuur|credit note no|gutschriftsnummer"},
    {"reminder", "reminder no|reminder number|mahnung nr|mahnungsnummer|mahnnummer|rappel n|rappel no|herinnering nr|"
                 "herinneringsnummer|aanmaningsnummer"},
    {"receipt", "receipt no|receipt number|receipt|ticket no|beleg nr|belegnummer|belegnr|bon nr|bonnummer|quittung "
                "nr|quittung|recu "
                "n|recu no|ticket n|recu|bon nr|kassabon|transaction no"},
    {"quotation",
     "quotation no|quote no|quotation number|quotation|offer no|angebotsnummer|angebotsnr|angebot nr|angebot|devis n|"
     "devis no|devis|offertenummer|offertenr|offerte nr|offerte"},
    {"delivery note",
     "delivery note no|delivery note number|delivery note|lieferscheinnummer|lieferschein nr|lieferscheinnr|"
     "lieferschein|bon n|bon no|bon de livraison n|bon de livraison|pakbonnummer|pakbonnr|pakbon nr|pakbon"},
    {"order", "order no|order number|purchase order no|purchase order|po no|bestellnummer|bestellnr|bestell "
              "nr|auftragsnummer|auftrags nr|"
              "bestellung nr|bestellung|commande n|commande no|numero de commande|bon de commande n|bon de commande|"
              "bestelnummer|bestelnr|bestelling nr|bestelling|ordernummer"},
    {"statement",
     "statement no|statement number|auszug nr|auszugsnummer|kontoauszug nr|releve n|releve no|afschriftnummer|"
     "afschrift nr"},
    {"lease", "n de contrat|n contrat|lease no|lease number|contract no|contract number|agreement "
              "no|vertragsnummer|vertragsnr|vertrags nr|vertrag nr|"
              "mietvertragsnummer|contrat n|contrat no|numero de contrat|bail n|contractnummer|contractnr|contract nr"},
    {"minutes", "minute no|minutes no|protokoll nr|protokollnummer|proces verbal n|proces verbal no|notulen nr"},
    {"form", "form no|form number|formular nr|formularnummer|formulaire n|formulaire no|formuliernummer|formulier nr"},
    {"reference",
     "n|n de police|n de dossier|our reference|our ref|reference|ref|reference no|reference number|file no|case "
     "no|unser zeichen|aktenzeichen|"
     "az|geschaftszeichen|zeichen|notre reference|nos references|references|reference n|dossier n|n de "
     "dossier|dossier|ons "
     "kenmerk|kenmerk|onze referentie|referentie|dossiernummer|zaaknummer|vorgangsnummer|document no|document number|"
     "number|no|nr|nummer|numero|policy no|policy number|versicherungsnummer|police n|polisnummer"},
    {"other",
     "customer no|customer number|customer|client no|account no|account number|account|member "
     "no|kundennummer|kundennr|kunden "
     "nr|kunde|kontonummer|mitgliedsnummer|n client|numero client|client n|code client|numero de client|n de compte|"
     "klantnummer|klantnr|klant nr|rekeningnummer|debiteurnummer|your reference|your ref|your order no|ihr "
     "zeichen|ihre nachricht|votre reference|vos references|uw kenmerk|uw referentie|telephone|phone|tel|"
     "telefon|mobile|mobil|fax|telefax|telefoon|portable|vat no|vat reg no|vat number|tax no|ust idnr|ust id nr|"
     "steuernummer|steuer nr|tva n|n tva|siret|siren|btw nummer|btw nr|kvk|kvk nr|iban|bic|swift|bank|"
     "company no|registered no|charity no|hrb|page|seite|blatt|pagina"},
};

constexpr Meaning total_phrases[] = {
    {"due",
     "total due|amount due|amount due for payment|balance due|total to pay|to pay|amount payable|total payable|zu "
     "zahlen|zahlbetrag|zahlungsbetrag|zu zahlender betrag|endbetrag|net a payer|reste a payer|montant a payer|total a "
     "payer|te betalen|totaal te betalen|te voldoen|openstaand bedrag"},
    {"total",
     "total|grand total|order total|total amount|total price|estimated total|gesamtpreis|endsumme|auftragswert|"
     "bestellwert|total general|eindtotaal|montant net|invoice total|invoice total amount with vat|total including "
     "vat|total incl vat|gesamtbetrag|"
     "rechnungsbetrag|gesamt|gesamtsumme|bruttobetrag|summe|total ttc|montant ttc|montant total|totaal|totaal incl "
     "btw|totaalbedrag|bedrag incl btw|new balance|neuer saldo|nouveau solde|nieuw saldo"},
    {"net", "net|net total|subtotal|total ht|total excluding vat|netto|nettobetrag|zwischensumme|sous "
            "total|subtotaal|totaal excl "
            "btw"},
};

constexpr Meaning kind_phrases[] = {
    {"invoice", "invoice|tax invoice|rechnung|facture|factuur"},
    {"credit note", "credit note|gutschrift|avoir|note de credit|creditnota|creditfactuur"},
    {"reminder",
     "payment reminder|reminder|final demand|zahlungserinnerung|mahnung|rappel de paiement|rappel|relance|mise en "
     "demeure|betalingsherinnering|herinnering|aanmaning"},
    {"receipt", "receipt|till receipt|quittung|kassenbon|kassenbeleg|beleg|recu|ticket de "
                "caisse|quittance|kassabon|ontvangstbewijs|"
                "kwitantie"},
    {"quotation", "quotation|quote|estimate|angebot|kostenvoranschlag|devis|offerte|prijsopgave"},
    {"delivery note",
     "delivery note|packing slip|packing list|lieferschein|bon de livraison|pakbon|leverbon|afleverbon"},
    {"order",
     "purchase order|order form|order confirmation|bestellung|auftragsbestatigung|bon de commande|confirmation de "
     "commande|bestelling|orderbevestiging|inkooporder"},
    {"statement", "statement of account|bank statement|account statement|kontoauszug|releve de compte|releve bancaire|"
                  "rekeningafschrift|rekeningoverzicht"},
    {"lease", "lease|mooring lease|tenancy agreement|lease agreement|rental agreement|mietvertrag|pachtvertrag|contrat "
              "de location|"
              "bail|huurovereenkomst|huurcontract|pachtovereenkomst"},
    {"contract",
     "contract|agreement|vertrag|kaufvertrag|arbeitsvertrag|contrat|convention|overeenkomst|contract|koopovereenkomst"},
    {"minutes",
     "minutes|minutes of|minutes of the meeting|protokoll|sitzungsprotokoll|niederschrift|proces verbal|compte rendu|"
     "notulen|verslag"},
    {"agenda", "agenda|order of business|tagesordnung|ordre du jour"},
    {"form", "form|application form|application|registration "
             "form|formular|antragsformular|antrag|anmeldeformular|formulaire|formulaire "
             "de demande|demande d inscription|formulier|aanvraagformulier|inschrijfformulier"},
    {"policy",
     "insurance policy|policy schedule|certificate of insurance|versicherungsschein|police d assurance|attestation d "
     "assurance|verzekeringspolis|polisblad"},
    {"payslip",
     "payslip|pay advice|gehaltsabrechnung|lohnabrechnung|bulletin de paie|fiche de paie|loonstrook|salarisstrook"},
    {"certificate", "certificate|certificate "
                    "of|urkunde|bescheinigung|zeugnis|certificat|attestation|certificaat|verklaring|getuigschrift"},
    {"report", "report|annual report|survey report|bericht|jahresbericht|gutachten|rapport|rapport annuel|jaarverslag"},
    {"log sheet", "log sheet|log|day log|logbuch|journal de bord|logboek"},
    {"notice", "notice|public notice|bekanntmachung|mitteilung|avis|kennisgeving|bekendmaking"},
    {"letter", "letter|brief|lettre"},
};

constexpr const char* salutation_phrases = "dear|to whom it may concern|sehr geehrte|sehr geehrter|liebe|lieber|guten "
                                           "tag|madame|monsieur|mesdames|cher|chere|chers|"
                                           "geachte|beste";
constexpr const char* closing_phrases =
    "yours sincerely|yours faithfully|yours truly|sincerely|kind regards|best regards|regards|with best wishes|mit "
    "freundlichen "
    "grussen|mit freundlichem gruss|freundliche grusse|hochachtungsvoll|mit besten grussen|cordialement|bien "
    "cordialement|"
    "sinceres salutations|salutations distinguees|veuillez agreer|veuillez croire|je vous prie d agreer|met "
    "vriendelijke "
    "groet|met vriendelijke groeten|hoogachtend|vriendelijke groeten|met hartelijke groet";
constexpr const char* addressee_phrases =
    "to|bill to|invoice to|ship to|deliver to|sold to|attn|attention|an|herrn|frau|firma|rechnung an|lieferung an|"
    "lieferadresse|rechnungsadresse|a|a l attention de|facture a|factureren aan|livre a|adresse de facturation|aan|t a "
    "v|"
    "ter attentie van|factuuradres|afleveradres|for the attention of|buyer";
constexpr const char* sender_phrases = "landlord|lessor|vermieter|verpachter|bailleur|proprietaire|verhuurder|from|"
                                       "sender|seller|seller name|supplier|issued "
                                       "by|absender|von|verkaufer|lieferant|expediteur|emetteur|vendeur|fournisseur|"
                                       "de|afzender|van|verkoper|leverancier|afzender";
constexpr const char* subject_phrases = "subject|re|betreff|betrifft|objet|concerne|onderwerp|betreft";

void add(std::vector<PaperPhrase>& to, std::string_view phrases, const std::string& means) {
    for (size_t begin = 0; begin <= phrases.size();) {
        const size_t end = std::min(phrases.find('|', begin), phrases.size());
        PaperPhrase phrase{word_keys(phrases.substr(begin, end - begin)), means};
        if (!phrase.keys.empty()) to.push_back(std::move(phrase));
        begin = end + 1;
    }
}

std::vector<PaperPhrase> all_of(std::span<const Meaning> meanings) {
    std::vector<PaperPhrase> out;
    for (const Meaning& meaning : meanings) add(out, meaning.phrases, meaning.means);
    return out;
}
std::vector<PaperPhrase> all_of(const char* phrases) {
    std::vector<PaperPhrase> out;
    add(out, phrases, "");
    return out;
}

// Words of equal length that differ in one letter, as OCR errors do.
bool nearly(const std::string& a, const std::string& b) {
    if (a == b) return true;
    if (a.size() != b.size() || a.size() < 7) return false;
    int different = 0;
    for (size_t i = 0; i < a.size(); ++i) different += a[i] != b[i];
    return different == 1;
}

}

std::string word_key(std::string_view word) {
    std::string key;
    const bool is_ascii = std::ranges::all_of(word, [](unsigned char c) { return c < 0x80; });
    if (is_ascii) {
        for (const char c : word)
            if (std::isalnum(static_cast<unsigned char>(c)))
                key += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
        return key;
    }
    UErrorCode failed = U_ZERO_ERROR;
    const icu::Normalizer2* decompose = icu::Normalizer2::getNFKDInstance(failed);
    icu::UnicodeString text = icu::UnicodeString::fromUTF8({word.data(), static_cast<int>(word.size())});
    text.findAndReplace(icu::UnicodeString(u"ß"), icu::UnicodeString(u"ss"));
    if (U_SUCCESS(failed)) text = decompose->normalize(text, failed);
    icu::UnicodeString out;
    for (int i = 0; i < text.length(); i = text.moveIndex32(i, 1)) {
        const UChar32 c = text.char32At(i);
        if (u_isalpha(c) || u_isdigit(c)) out.append(u_tolower(c));
    }
    return out.toUTF8String(key);
}

std::vector<std::string> word_keys(std::string_view words) {
    std::vector<std::string> keys;
    std::string word;
    for (const char c : words) {
        if (c != ' ' && c != '\'' && c != '-' && c != '/') {
            word += c;
            continue;
        }
        if (std::string key = word_key(word); !key.empty()) keys.push_back(std::move(key));
        word.clear();
    }
    if (std::string key = word_key(word); !key.empty()) keys.push_back(std::move(key));
    return keys;
}

const PaperWords& common_paper_words() {
    static const PaperWords words{all_of(date_phrases),      all_of(number_phrases),     all_of(total_phrases),
                                  all_of(kind_phrases),      all_of(salutation_phrases), all_of(closing_phrases),
                                  all_of(addressee_phrases), all_of(sender_phrases),     all_of(subject_phrases)};
    return words;
}

Result<PaperWords> paper_words_with(const std::filesystem::path& file) {
    PaperWords words = common_paper_words();
    std::ifstream in(file);
    if (!in) return words;
    const auto wrong = [&](const char* what) {
        return fail(
            ErrorKind::BadInput,
            fmt::format(
                "{} {}; kinds of document are written as {{\"kinds\": {{\"mooring permit\": [\"mooring permit\"]}}}}.",
                file.string(), what));
    };
    const auto json = json_from_text(std::string{std::istreambuf_iterator<char>(in), {}});
    if (!json) return wrong("is not valid JSON");
    if (!json->is_object() || !json->contains("kinds")) return wrong("has no \"kinds\"");
    const auto& kinds = (*json)["kinds"];
    if (!kinds.is_object()) return wrong("has \"kinds\" that are not an object");
    for (const auto& [name, phrases] : kinds.items()) {
        if (name.empty() || !phrases.is_array()) return wrong("has a kind without a list of words");
        for (const auto& phrase : phrases) {
            if (!phrase.is_string() || word_keys(phrase.get<std::string>()).empty())
                return wrong("has a kind with something other than words");
            // The user's own words come before the built-in ones: the longest phrase that fits wins, then the first.
            words.kinds.insert(words.kinds.begin(), {word_keys(phrase.get<std::string>()), name});
        }
    }
    return words;
}

size_t phrase_at(const PaperPhrase& phrase, const std::vector<std::string>& keys, size_t at) {
    if (at + phrase.keys.size() > keys.size()) return 0;
    for (size_t i = 0; i < phrase.keys.size(); ++i)
        if (!nearly(phrase.keys[i], keys[at + i])) return 0;
    return phrase.keys.size();
}

}
