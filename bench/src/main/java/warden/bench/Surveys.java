package warden.bench;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import warden.core.aws.account.Account;
import warden.core.aws.survey.AwsAspects;
import warden.core.survey.Survey;
import warden.core.survey.SurveyException;
import warden.core.survey.SurveyHeader;
import warden.core.survey.SurveyReader;

/** Makes surveys of any size. JSON is written with single quotes. */
final class Surveys {
    static final String HEADER =
            "{'survey':1,'provider':'aws','account':'210987654321','takenAt':'2026-11-20T06:30:00Z','takenBy':'bench'}\n";

    private Surveys() {}

    static String json(String text) {
        return text.replace('\'', '"');
    }

    static Account account(String lines) {
        Survey.Collector collector = new Survey.Collector(AwsAspects.TABLE);
        byte[] bytes = (json(HEADER) + lines).getBytes(StandardCharsets.UTF_8);
        try {
            SurveyHeader header = SurveyReader.read(new ByteArrayInputStream(bytes), "bench.ndjson", collector::add);
            return new Account(collector.toSurvey(header));
        } catch (SurveyException | IOException broken) {
            throw new IllegalStateException(broken);
        }
    }

    static String found(String aspect, String of, String document) {
        return json("{'aspect':'" + aspect + "','of':'" + of + "','found':" + document + "}\n");
    }

    /** Returns a bucket's readings, its policy given as JSON text. */
    static String bucket(String name, String policy) {
        String arn = "arn:aws:s3:::" + name;
        String quoted = policy.replace("\\", "\\\\").replace("\"", "\\\"");
        return json("{'aspect':'bucket-policy','of':'" + arn + "','found':{'Policy':'") + quoted + "\"}}\n"
                + found("bucket-location", arn, "{'LocationConstraint':'eu-west-1'}")
                + json("{'aspect':'bucket-public-access','of':'" + arn
                        + "','absent':'NoSuchPublicAccessBlockConfiguration'}\n")
                + found(
                        "bucket-ownership",
                        arn,
                        "{'OwnershipControls':{'Rules':[{'ObjectOwnership':'BucketOwnerEnforced'}]}}")
                + found("bucket-acl", arn, "{'Owner':{'ID':'own'},'Grants':[]}")
                + found(
                        "bucket-encryption",
                        arn,
                        "{'ServerSideEncryptionConfiguration':{'Rules':[{'ApplyServerSideEncryptionByDefault':{'SSEAlgorithm':'AES256'}}]}}");
    }

    static String noAccountBlock() {
        return json(
                "{'aspect':'account-public-access','of':'210987654321','absent':'NoSuchPublicAccessBlockConfiguration'}\n");
    }
}
