package warden.core.aws.checks.certificate;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import warden.core.audit.CheckCard;
import warden.core.audit.Finding;
import warden.core.audit.Judged;
import warden.core.audit.Verdict;
import warden.core.aws.account.Account;
import warden.core.aws.audit.AwsCheck;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.audit.UnreadCertificates;
import warden.core.aws.cdn.Distribution;
import warden.core.aws.certificate.Certificate;
import warden.core.survey.Citation;
import warden.core.survey.Need;

/** A check that asks its question of every certificate. */
interface CertificateCheck extends AwsCheck<CertificateCheck.Subject> {
    /** One certificate in its surroundings. */
    record Subject(AwsContext context, Account account, Certificate certificate) implements Judged {
        /** Returns the name of the site that it serves, or whose host it is for. */
        Optional<String> site() {
            return CertificateUse.site(context, account, certificate);
        }

        /** Returns the distributions that show it. */
        List<Distribution> users() {
            return CertificateUse.users(account, certificate);
        }

        /** True when a distribution shows it, or the account says that something uses it. */
        boolean isUsed() {
            return CertificateUse.isUsed(account, certificate);
        }

        /** Returns the hosts that it is for, as a sentence lists them. */
        String names() {
            return String.join(", ", certificate.names());
        }

        Finding finding(CheckCard card, String says, List<Citation> because) {
            return Finding.of(card, certificate.arn(), site(), says, because);
        }

        Verdict flagged(CheckCard card, String says) {
            return new Verdict.Flagged(finding(card, says, List.of(certificate.at())));
        }

        Verdict clean() {
            return new Verdict.Clean(certificate.arn(), site());
        }

        @Override
        public Verdict unknown(List<Need> needs) {
            return new Verdict.Unknown(certificate.arn(), site(), needs);
        }

        /** Returns that nothing is wrong; or, where something is missing to say so, that it cannot be told. */
        Verdict cleanUnless(List<Need> missing) {
            return missing.isEmpty() ? clean() : unknown(missing);
        }

        /** Returns that the answer of the certificate manager does not say what is asked. */
        Verdict unsaid(String why) {
            return unknown(List.of(new Need("certificate", certificate.arn(), why, "acm:DescribeCertificate")));
        }
    }

    @Override
    default List<Subject> subjects(AwsContext context) {
        return context.subjects(CertificateCheck.class, () -> list(context));
    }

    private static List<Subject> list(AwsContext context) {
        List<Subject> subjects = new ArrayList<>();
        for (Account account : context.cloud().accounts()) {
            account.names()
                    .certificates()
                    .forEach(certificate -> subjects.add(new Subject(context, account, certificate)));
        }
        return subjects;
    }

    @Override
    default List<Verdict> unread(AwsContext context) {
        return UnreadCertificates.verdicts(context);
    }
}
