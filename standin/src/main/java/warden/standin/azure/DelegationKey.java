package warden.standin.azure;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import warden.core.azure.account.StorageAccount;
import warden.core.document.Instants;
import warden.standin.Refusal;
import warden.standin.XmlText;

/**
 * A key with which a principal signs URLs for what it may do itself: made up of what it is for, so that none has to be remembered. Source: Blob
 * service REST API, "Get User Delegation Key"; Storage REST API, "Create a user delegation SAS".
 *
 * @param oid whose it is, by object id
 * @param tid the directory
 * @param start from when on it is good
 * @param expiry until when
 * @param service {@code b} for blobs
 * @param version the version of the interface by which it was asked for
 */
record DelegationKey(String oid, String tid, String start, String expiry, String service, String version) {
    private static final Duration LONGEST = Duration.ofDays(7);

    /**
     * Returns the key that a request asks for.
     *
     * @param body the document {@code KeyInfo}
     */
    static DelegationKey asked(byte[] body, String oid, String tid, String version, Instant now) {
        Map<String, String> said = said(body);
        Instant start = instant(said, "Start").orElse(now);
        Instant expiry = instant(said, "Expiry")
                .orElseThrow(() -> new Refusal(400, "InvalidXmlDocument", "The XML specified is not valid."));
        boolean isGood = expiry.isAfter(now) && expiry.isAfter(start) && !expiry.isAfter(now.plus(LONGEST));
        if (!isGood) {
            // How the service spells that refusal is not documented.
            throw new Refusal(
                    501, "NotImplemented", "A key that is not good now, or for more than seven days, is not simulated");
        }
        return new DelegationKey(oid, tid, spelled(start), spelled(expiry), "b", version);
    }

    private static String spelled(Instant instant) {
        return instant.truncatedTo(ChronoUnit.SECONDS).toString();
    }

    private static Optional<Instant> instant(Map<String, String> said, String name) {
        return Optional.ofNullable(said.get(name))
                .filter(text -> !text.isEmpty())
                .map(text -> Instants.parse(text)
                        .orElseThrow(() -> new Refusal(400, "InvalidXmlDocument", "The XML specified is not valid.")));
    }

    private static Map<String, String> said(byte[] body) {
        Map<String, String> said = new HashMap<>();
        FlatXml.elements(body, "KeyInfo")
                .forEach(each -> said.put(each.getKey(), each.getValue().strip()));
        return said;
    }

    /** Returns the key that a signed URL names. */
    static DelegationKey named(Map<String, String> query) {
        return new DelegationKey(
                query.getOrDefault("skoid", ""),
                query.getOrDefault("sktid", ""),
                query.getOrDefault("skt", ""),
                query.getOrDefault("ske", ""),
                query.getOrDefault("sks", ""),
                query.getOrDefault("skv", ""));
    }

    /** Returns what a signed text says of the key, with a line's end. */
    String told() {
        return String.join("\n", oid, tid, start, expiry, service, version) + "\n";
    }

    /** True while it is good. */
    boolean isGood(Instant now) {
        return Instants.parse(start).filter(from -> !from.isAfter(now)).isPresent()
                && Instants.parse(expiry).filter(until -> until.isAfter(now)).isPresent();
    }

    /** Returns the key itself, in base 64. */
    String value(StorageAccount account) {
        return AccountKeys.signature(account.id(), "delegation\n" + told());
    }

    /** Returns the answer to who asked for it. */
    String document(StorageAccount account) {
        return XmlText.of("UserDelegationKey", "", xml -> xml.text("SignedOid", oid)
                .text("SignedTid", tid)
                .text("SignedStart", start)
                .text("SignedExpiry", expiry)
                .text("SignedService", service)
                .text("SignedVersion", version)
                .text("Value", value(account)));
    }
}
