package warden.core.aws.checks.certificate;

import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import warden.core.audit.Area;
import warden.core.audit.CheckCard;
import warden.core.audit.Severity;
import warden.core.audit.Verdict;
import warden.core.aws.certificate.Certificate;

/** Finds certificates in use with a short key or an old signature. */
final class CertificateWeakKey implements CertificateCheck {
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
    public List<Verdict> examine(Subject subject) {
        if (!subject.isUsed()) {
            return List.of();
        }
        Certificate certificate = subject.certificate();
        Matcher rsa = RSA.matcher(certificate.keyAlgorithm());
        boolean shortKey = rsa.matches() && rsa.group(1).length() < 6 && Integer.parseInt(rsa.group(1)) < 2048;
        boolean oldSignature = certificate.signatureAlgorithm().startsWith("SHA1");
        if (!shortKey && !oldSignature) {
            return List.of(
                    certificate.keyAlgorithm().isEmpty()
                            ? subject.unsaid("its key's algorithm is not in the answer")
                            : subject.clean());
        }
        return List.of(subject.flagged(
                CARD,
                "The certificate for " + subject.names() + " has "
                        + (shortKey
                                ? "the key " + certificate.keyAlgorithm()
                                : "the signature " + certificate.signatureAlgorithm())
                        + "."));
    }
}
