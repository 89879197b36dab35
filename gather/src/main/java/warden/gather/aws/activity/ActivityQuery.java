package warden.gather.aws.activity;

import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * Spells the query that sums the account's log up on an engine of the user's own: standard SQL, with the functions of the open engine that the
 * large clouds' query services are built on. Its rows are what {@link ActivityReader} reads beside raw logs, with the same answers.
 *
 * <p>Source: CloudTrail User Guide, "CloudTrail record contents"; Athena User Guide, "Query AWS CloudTrail logs", for the columns' usual names.
 *
 * @param table the log's table: up to three names with dots between them
 * @param from the first day that counts
 * @param to the last day that counts
 * @param partitionedBy the columns of the table's days: one that holds a day as {@code 2026/11/24}, or three of year, month and day; none where
 *     the table has none
 */
public record ActivityQuery(String table, LocalDate from, LocalDate to, List<String> partitionedBy) {
    /** More rows than this are no summary; the reader says so where a result has them. */
    static final int MOST_ROWS = 1_000_000;

    private static final Pattern NAME = Pattern.compile("[A-Za-z_][A-Za-z0-9_]{0,254}");
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("yyyy/MM/dd", Locale.ROOT);

    /** @throws IllegalArgumentException with a sentence for the user */
    public ActivityQuery {
        partitionedBy = List.copyOf(partitionedBy);
        List<String> names = List.of(table.split("\\.", -1));
        if (names.size() > 3
                || !names.stream().allMatch(name -> NAME.matcher(name).matches())) {
            throw new IllegalArgumentException(
                    "--table: a table is up to three names of letters, digits and _ with dots between them, as in"
                            + " logs.cloudtrail");
        }
        if (!partitionedBy.stream().allMatch(name -> NAME.matcher(name).matches())
                || !List.of(0, 1, 3).contains(partitionedBy.size())) {
            throw new IllegalArgumentException(
                    "--partitioned-by: name one column that holds days as 2026/11/24, or three, as in year,month,day");
        }
        if (to.isBefore(from)) {
            throw new IllegalArgumentException("--to: the last day is before the first, " + from);
        }
    }

    private static String quoted(String name) {
        return "\"" + name + "\"";
    }

    /** Returns the query, with a line's end. */
    public String spelled() {
        String from = this.from + "T00:00:00Z";
        String until = to.plusDays(1) + "T00:00:00Z";
        return """
                -- One row for each credential, action, resource pattern and outcome, from %s to %s (both included).
                -- Sessions count as their roles; the keys of a bucket are one pattern. Save the result as CSV or JSON Lines and give it to
                -- "gentle-warden trim --activity FILE".
                WITH events AS (
                  SELECT
                    coalesce(nullif(useridentity.sessioncontext.sessionissuer.arn, ''), useridentity.arn) AS caller,
                    coalesce(eventsource, '') AS source,
                    coalesce(eventname, '') AS name,
                    coalesce(errorcode, '') AS error,
                    eventtime,
                    recipientaccountid AS account,
                    json_extract_scalar(requestparameters, '$.bucketName') AS bucket,
                    json_extract_scalar(requestparameters, '$.key') AS object_key,
                    json_extract_scalar(requestparameters, '$.distributionId') AS distribution,
                    element_at(filter(transform(resources, r -> r.arn), a -> a <> ''), 1) AS first_resource
                  FROM %s
                  WHERE eventtime >= '%s' AND eventtime < '%s'%s
                ),
                named AS (
                  SELECT
                    CASE
                      WHEN length(caller) > %d OR caller NOT LIKE 'arn:%%' THEN ''
                      ELSE coalesce(regexp_replace(caller, '%s', '%s'), '')
                    END AS credential,
                    CASE
                      WHEN source = '' THEN ''
                      ELSE coalesce(regexp_extract(source, '^([^.]+)\\.', 1), '?')
                    END AS service,
                    substr(name, 1, 200) AS name,
                    CASE WHEN error = '' THEN 'used' ELSE 'refused' END AS outcome,
                    eventtime, account, bucket, object_key, distribution, first_resource
                  FROM events
                )
                SELECT
                  credential,
                  concat(substr(service, 1, 200), ':', name) AS action,
                  CASE
                    WHEN credential = '' THEN ''
                    WHEN service = 's3' AND regexp_like(bucket, '%s')
                      THEN concat('arn:aws:s3:::', bucket, CASE WHEN object_key IS NULL THEN '' ELSE '/*' END)
                    WHEN service = 's3' THEN ''
                    WHEN service = 'cloudfront' AND regexp_like(distribution, '%s') AND regexp_like(account, '%s')
                      THEN concat('arn:aws:cloudfront::', account, ':distribution/', distribution)
                    WHEN length(first_resource) <= %d AND NOT regexp_like(first_resource, '[*?$]') THEN first_resource
                    ELSE ''
                  END AS resource,
                  outcome,
                  count(*) AS uses,
                  min(eventtime) AS first_used,
                  max(eventtime) AS last_used
                FROM named
                GROUP BY 1, 2, 3, 4
                ORDER BY 1, 2, 3, 4
                LIMIT %d
                """.formatted(
                this.from,
                to,
                List.of(table.split("\\.")).stream().map(ActivityQuery::quoted).collect(Collectors.joining(".")),
                from,
                until,
                partitions(),
                Event.LONGEST_NAME,
                Event.SESSION.pattern(),
                Event.ROLE_OF_SESSION,
                Event.BUCKET.pattern(),
                Event.DISTRIBUTION.pattern(),
                Event.ACCOUNT.pattern(),
                Event.LONGEST_NAME,
                MOST_ROWS + 1);
    }

    /** Files are laid down by when they are delivered, which may be past midnight. */
    private String partitions() {
        if (partitionedBy.isEmpty()) {
            return "";
        }
        String day = partitionedBy.stream().map(ActivityQuery::quoted).collect(Collectors.joining(", '/', "));
        return "\n    AND " + (partitionedBy.size() == 1 ? day : "concat(" + day + ")") + " BETWEEN '"
                + DAY.format(from) + "' AND '" + DAY.format(to.plusDays(1)) + "'";
    }
}
