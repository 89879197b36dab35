package warden.cli;

import java.util.List;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import warden.core.aws.account.Account;
import warden.core.aws.reach.Matrix;
import warden.core.aws.reach.Matrix.Table;
import warden.core.aws.storage.Bucket;
import warden.core.site.Estate;
import warden.core.site.Publisher;
import warden.core.site.Site;

/** The matrices of who can do what, for the command that prints them and the report that shows them. */
final class Matrices {
    private Matrices() {}

    /** Returns the tables of the wanted buckets, in the order of the surveys; each has a row for every publisher of its account. */
    static List<Table> of(Estate estate, List<Publisher> publishers, Predicate<Bucket> wanted) {
        return estate.accounts().stream()
                .flatMap(account -> of(estate, account, publishers, wanted))
                .toList();
    }

    private static Stream<Table> of(
            Estate estate, Account account, List<Publisher> publishers, Predicate<Bucket> wanted) {
        Matrix matrix = new Matrix(estate.reach(account));
        List<String> always = publishers.stream()
                .filter(publisher -> publisher.account() == account)
                .map(Publisher::arn)
                .toList();
        List<Bucket> buckets = account.buckets().stream().filter(wanted).toList();
        return buckets.parallelStream().map(bucket -> matrix.of(bucket, always)).toList().stream();
    }

    /** Returns the ARNs of the buckets that serve no site, or only sites that are meant to keep their buckets closed. */
    static Set<String> closed(Estate estate) {
        return estate.accounts().stream()
                .flatMap(account -> account.buckets().stream())
                .filter(bucket -> estate.sitesOf(bucket).stream().allMatch(Site::isMeantSealed))
                .map(Bucket::arn)
                .collect(Collectors.toSet());
    }
}
