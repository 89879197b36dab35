package warden.core.aws.checks.certificate;

import java.util.List;
import java.util.Optional;
import warden.core.aws.audit.AwsContext;
import warden.core.aws.certificate.Certificate;
import warden.core.names.HostDirectory;
import warden.core.names.Zone;
import warden.core.survey.Need;

/** Whether a certificate renews by itself. */
final class Renewal {
    private Renewal() {}

    /** Returns why it will not renew, as a phrase; absent when nothing keeps it. {@code needs} collects what is not known. */
    static Optional<String> obstacle(AwsContext context, Certificate certificate, List<Need> needs) {
        if (certificate.isImported()) {
            return Optional.of("it was imported");
        }
        if (certificate.renewalStatus().filter("FAILED"::equals).isPresent()) {
            return Optional.of("its last renewal failed");
        }
        for (Certificate.Validation validation : certificate.validations()) {
            if (validation.method().equals("EMAIL")) {
                return Optional.of("it is validated by mail, which somebody has to answer");
            }
            Optional<String> gone = validation.record().flatMap(record -> gone(context, record, needs));
            if (gone.isPresent()) {
                return gone;
            }
        }
        // An unused certificate is called ineligible until it is used, so that word counts for used ones only.
        return certificate.renewalEligibility().equals("INELIGIBLE")
                        && !certificate.users().isEmpty()
                ? Optional.of("the certificate manager says that it is not eligible")
                : Optional.empty();
    }

    private static Optional<String> gone(AwsContext context, Certificate.ValidationRecord record, List<Need> needs) {
        HostDirectory hosts = context.cloud().hosts();
        Optional<Zone> zone = hosts.zoneOf(record.name());
        if (zone.isEmpty() || !zone.get().isComplete() || hosts.isDelegatedAway(record.name(), zone.get())) {
            Need need = new Need(
                    "zone-records",
                    zone.map(Zone::id).orElse(record.name()),
                    "whether the validation record is there",
                    "route53:ListResourceRecordSets");
            if (!needs.contains(need)) {
                needs.add(need);
            }
            return Optional.empty();
        }
        boolean there = hosts.recordsOfAnyType(record.name()).stream()
                .filter(each -> each.type().equals("CNAME"))
                .flatMap(each -> each.targets().stream())
                .anyMatch(record.value()::equals);
        return there ? Optional.empty() : Optional.of("its validation record " + record.name() + " is gone from DNS");
    }
}
