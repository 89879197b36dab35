package warden.core.checks.certificate;

import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.account.Account;
import warden.core.certificate.Certificate;
import warden.core.check.Area;
import warden.core.check.Check;
import warden.core.check.CheckCard;
import warden.core.check.Finding;
import warden.core.check.Setup;
import warden.core.check.Severity;
import warden.core.check.Verdict;

/** Finds certificates in use with a short key or an old signature. */
final class CertificateWeakKey implements Check {
    private static final CheckCard CARD = new CheckCard(
            "certificate-weak-key",
            Area.CERTIFICATE,
            Severity.MEDIUM,
            "RSA below 2048 bits, or SHA-1",
            "certificate",
            "Such keys and signatures can be forged with effort, and browsers refuse some of them.",
            "Request a new certificate with an RSA key of 2048 bits or an elliptic curve key.",
            "CloudFront Developer Guide, \"Requirements for using SSL/TLS certificates with CloudFront\"");

    @Override
    public CheckCard card() {
        return CARD;
    }

    private static final Pattern RSA = Pattern.compile("RSA[-_]([0-9]+)");

    @Override
    public List<Verdict> examine(Setup setup) {
        return CertificateUse.each(
                setup,
                (account, certificate) -> CertificateUse.isUsed(account, certificate)
                        ? Optional.of(judge(setup, account, certificate))
                        : Optional.empty());
    }

    private static Verdict judge(Setup setup, Account account, Certificate certificate) {
        Optional<String> site = CertificateUse.site(setup, account, certificate);
        Matcher rsa = RSA.matcher(certificate.keyAlgorithm());
        boolean shortKey = rsa.matches() && Integer.parseInt(rsa.group(1)) < 2048;
        boolean oldSignature = certificate.signatureAlgorithm().startsWith("SHA1");
        if (!shortKey && !oldSignature) {
            return new Verdict.Clean(certificate.arn(), site);
        }
        String says = "The certificate for " + String.join(", ", certificate.names()) + " has "
                + (shortKey
                        ? "the key " + certificate.keyAlgorithm()
                        : "the signature " + certificate.signatureAlgorithm())
                + ".";
        return new Verdict.Flagged(Finding.of(CARD, certificate.arn(), site, says, List.of(certificate.at())));
    }
}
