package warden.gather.aws.template;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import warden.gather.aws.template.Templates.Source;

/** Expressions and macros of templates: what they come to, and that what is not told is never taken for a value. */
class CfnTest {
    private static final String SITE = "arn:aws:s3:::heron-site";

    private static final String SETTINGS = """
            Parameters:
              Domain: {Type: String, Default: www.heronferry.example}
              Ports: {Type: CommaDelimitedList, Default: 'skye, mull'}
              Stage: {Type: String}
            Mappings:
              Sites: {prod: {Name: heron-prod}, test: {Other: heron-test}}
            Conditions:
              IsProd: !Equals [!Ref Stage, prod]
              Always: !Equals [a, a]
              Never: !Not [{Condition: Always}]
            Resources:
              Plain: {Type: AWS::S3::Bucket}
              Role: {Type: AWS::IAM::Role, Properties: {RoleName: publisher, Path: /site/, AssumeRolePolicyDocument: {}}}
              Zone: {Type: AWS::Route53::HostedZone, Properties: {Name: heronferry.example}}
              Edge: {Type: AWS::CloudFront::Distribution, Properties: {DistributionConfig: {Enabled: true}}}
            """;

    private static String named(String expression) throws TemplateException {
        Described described = Described.template(
                SETTINGS + "  Asked: {Type: AWS::S3::Bucket, Properties: {BucketName: " + expression + "}}\n");
        return described.bucketBeside("{Plain}");
    }

    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "!Ref Domain | www.heronferry.example",
                "!Sub '${Domain}-logs' | www.heronferry.example-logs",
                "!Sub ['${Name}-x', {Name: !Select [1, !Ref Ports]}] | mull-x",
                "!Sub 'a-${AWS::Region}-${AWS::AccountId}' | a-eu-west-1-210987654321",
                "!Join ['-', [a, !Ref Domain, 7]] | a-www.heronferry.example-7",
                "!Join ['-', [a, !If [Never, b, !Ref AWS::NoValue], c]] | a-c",
                "!Select [1, !Split ['.', !Ref Domain]] | heronferry",
                "!Select ['0', !Ref Ports] | skye",
                "!If [Always, yes-it-is, no] | yes-it-is",
                "!If [Never, a, !If [Always, b, c]] | b",
                "!If [IsProd, same, same] | same",
                "!FindInMap [Sites, prod, Name] | heron-prod",
                "!FindInMap [Sites, test, Name, DefaultValue: heron-other] | heron-other",
                "!FindInMap [Sites, prod, Name, DefaultValue: heron-other] | heron-prod",
                "!FindInMap [Ports, prod, Name, DefaultValue: !Ref Domain] | www.heronferry.example",
                "{'Fn::Base64': site} | c2l0ZQ==",
                "!Sub 'x${!Literal}' | x${Literal}",
                "!Select [5, !Split [':', !GetAtt Role.Arn]] | role/site/publisher",
                "!Select [4, !Split [':', !GetAtt Role.Arn]] | 210987654321",
            })
    void comesTo(String expression, String expected) throws Exception {
        assertThat(named(expression)).isEqualTo(expected);
    }

    /** The bucket then goes by the resource's name. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "!If [IsProd, a, b]",
                "!FindInMap [Sites, test, Name]",
                "!FindInMap [Sites, !Ref Stage, Name, DefaultValue: x]",
                "!Select [7, !Ref Ports]",
                "!Select [1, !Split ['-', !Ref Plain]]",
                "!Select [1, !Split ['.', !GetAtt Plain.DomainName]]",
                "!Select [1, !Split ['.', !GetAtt Zone.NameServers]]",
                "!Select [!Ref Stage, !Ref Ports]",
                "!Select []",
                "!Split []",
                "!Join []",
                "!Join [',', !Ref Stage]",
                "!Sub []",
                "!Sub [[a], {}]",
                "!If []",
                "!If [Missing, a, b]",
                "!FindInMap []",
                "!Ref []",
                "!GetAtt []",
                "{'Fn::Length': a}",
                "{'Fn::Unheard': a}",
            })
    void isNotTold(String expression) throws Exception {
        assertThat(named(expression)).startsWith("{");
    }

    /** Nothing is told of the account: its number stands in ARNs under a name that holds colons itself. */
    @Test
    void placeholdersAreNotSplit() throws Exception {
        Described described = Described.somewhere(SETTINGS + """
                  Asked: {Type: AWS::S3::Bucket, Properties: {BucketName: !Select [5, !Split [':', !GetAtt Role.Arn]]}}
                  Other: {Type: AWS::S3::Bucket, Properties: {BucketName: !Select [4, !Split [':', !GetAtt Role.Arn]]}}
                """);
        assertThat(described.buckets()).contains("role/site/publisher", "{AWS::AccountId}");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {"!Not []", "!And []", "!Or []", "!Equals []", "!Equals [a]", "{Condition: Open}", "[a]", "a"})
    void aConditionThatIsNoneIsNotTold(String condition) throws Exception {
        Described described = Described.template("""
                Conditions:
                  Open: %s
                Resources:
                  Site: {Type: AWS::S3::Bucket, Condition: Open, Properties: {BucketName: heron-site}}
                """.formatted(condition));
        assertThat(described.reading("bucket-policy", SITE)).isEqualTo("unread");
    }

    /** Generators declare parameters for themselves. */
    @Test
    void onlyParametersThatAreAskedForAreMissed() throws Exception {
        String text =
                "Parameters: {Used: {Type: String}, Version: {Type: 'AWS::SSM::Parameter::Value<String>', Default: /x}}\n"
                        + "Resources: {Site: {Type: AWS::S3::Bucket, Properties: {BucketName: !Ref Used}}}\n";
        assertThat(Described.template(text).notes())
                .containsExactly("the parameter Used has no value here; give one with --parameters");
    }

    // --- macros

    private static final String BUCKET = """
            Resources:
              Site:
                Type: AWS::S3::Bucket
                Properties: {BucketName: heron-site}
              Role: {Type: AWS::IAM::Role, Properties: {RoleName: publisher, AssumeRolePolicyDocument: {}}}
            """;

    private static final String ROLE = "arn:aws:iam::210987654321:role/publisher";

    /** A macro of somebody's own gets the whole template and gives back another. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "CompanyRules",
                "[AWS::Serverless-2016-10-31, CompanyRules]",
                "{Name: CompanyRules, Parameters: {A: b}}",
                "[{Name: CompanyRules}]",
                "!Ref Macro",
                "'210987654321::CompanyRules'"
            })
    void whatAMacroMayChangeIsUnread(String macro) throws Exception {
        Described described = Described.template("Transform: " + macro + "\n" + BUCKET);
        assertThat(described.reading("bucket-policy", SITE)).isEqualTo("unread");
        assertThat(described.reading("bucket-public-access", SITE)).isEqualTo("unread");
        assertThat(described.reading("iam-role", ROLE)).isEqualTo("unread");
        assertThat(described.notes()).anyMatch(note -> note.contains("macro"));
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "AWS::LanguageExtensions",
                "AWS::Serverless-2016-10-31",
                "[AWS::Serverless-2016-10-31, AWS::LanguageExtensions]",
                "AWS::SecretsManager-2024-09-16",
                "AWS::CodeDeployBlueGreen",
            })
    void theProvidersOwnMacrosLeaveOtherResourcesAlone(String macro) throws Exception {
        Described described = Described.template("Transform: " + macro + "\n" + BUCKET);
        assertThat(described.reading("bucket-policy", SITE)).isEqualTo("absent");
        assertThat(described.reading("iam-role", ROLE)).startsWith("{");
    }

    /** What is included may hold another resource, such as the policy of this bucket. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "Transform: {Name: 'AWS::Include', Parameters: {Location: 's3://heron/more.yaml'}}\n" + BUCKET,
                BUCKET + "  Fn::Transform: {Name: 'AWS::Include', Parameters: {Location: 's3://heron/more.yaml'}}\n",
                BUCKET + "  Fn::ForEach::More: [Name, !Ref Missing, {'${Name}': {Type: 'AWS::S3::Bucket'}}]\n",
            })
    void whatMayBeAddedLeavesOpenWhatItMayBeAbout(String template) throws Exception {
        Described described = Described.template(template);
        assertThat(described.reading("bucket-policy", SITE)).isEqualTo("unread");
        assertThat(described.reading("iam-role", ROLE)).isEqualTo("unread");
        assertThat(described.reading("bucket-ownership", SITE)).startsWith("{");
    }

    @Test
    void propertiesThatAMacroCompletesAreUnread() throws Exception {
        Described described = Described.template("""
                Resources:
                  Site:
                    Type: AWS::S3::Bucket
                    Properties:
                      BucketName: heron-site
                      Fn::Transform: {Name: 'AWS::Include', Parameters: {Location: 's3://heron/more.yaml'}}
                  Other:
                    Type: AWS::S3::Bucket
                    Properties:
                      BucketName: heron-other
                      PublicAccessBlockConfiguration:
                        BlockPublicAcls: true
                        Fn::Transform: {Name: 'AWS::Include', Parameters: {Location: 's3://heron/more.yaml'}}
                """);
        assertThat(described.reading("bucket-public-access", SITE)).isEqualTo("unread");
        assertThat(described.reading("bucket-public-access", "arn:aws:s3:::heron-other"))
                .isEqualTo("unread");
        assertThat(described.reading("bucket-ownership", "arn:aws:s3:::heron-other"))
                .startsWith("{");
    }

    /** The role that the serverless transform makes for a function may do what the function's policies say. */
    @Test
    void rolesThatTheServerlessTransformMakesAreUnread() throws Exception {
        String template = "Transform: AWS::Serverless-2016-10-31\n" + BUCKET + """
                  Resize:
                    Type: AWS::Serverless::Function
                    Properties: {Policies: [{S3CrudPolicy: {BucketName: !Ref Site}}]}
                  Logs: {Type: AWS::Serverless::Function, Properties: {Handler: a.b}}
                  Own: {Type: AWS::Serverless::Function, Properties: {Role: !GetAtt Role.Arn, Policies: [x]}}
                  Uses: {Type: AWS::S3::BucketPolicy, Properties: {Bucket: !Ref Site, PolicyDocument: {Statement: [{Effect: Allow,
                    Principal: {AWS: !GetAtt ResizeRole.Arn}, Action: 's3:PutObject', Resource: !Sub '${Site.Arn}/*'}]}}}
                """;
        Described described = Described.template(template);
        assertThat(described.reading("iam-role", "arn:aws:iam::210987654321:role/{ResizeRole}"))
                .isEqualTo("unread");
        assertThat(described.readings().keySet())
                .noneMatch(each -> each.contains("LogsRole") || each.contains("OwnRole"));
        assertThat(described.reading("bucket-policy", SITE)).contains("role/{ResizeRole}");
        assertThat(described.notes()).noneMatch(note -> note.contains("no such resource"));
    }

    @Test
    void whatAConnectorGrantsLeavesRolesOpen() throws Exception {
        Described described = Described.template("Transform: AWS::Serverless-2016-10-31\n" + BUCKET + """
                  Write:
                    Type: AWS::Serverless::Connector
                    Properties: {Source: {Id: Role}, Destination: {Id: Site}, Permissions: [Write]}
                """);
        assertThat(described.reading("iam-role", ROLE)).isEqualTo("unread");
    }

    // --- templates in templates

    /** Of what it is given, a stack that is not read may set anything. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "AWS::CloudFormation::Stack, Properties: {TemplateURL: 'https://heron.example/x.yaml', Parameters: {Bucket: !Ref Site, Who: !GetAtt Role.Arn}}",
                "AWS::CloudFormation::Stack, Properties: {TemplateURL: missing.yaml, Parameters: {All: !Sub '${Site},${Role}'}}",
                "AWS::Serverless::Application, Properties: {Location: {ApplicationId: x}, Parameters: {Bucket: heron-site, Role: publisher}}",
                "Heron::Site::Open::MODULE, Properties: {Of: {Bucket: !GetAtt Site.Arn}, Roles: [!Ref Role]}",
            })
    void whatAStackThatIsNotReadIsGivenIsOpen(String inner) throws Exception {
        Described described = Described.template(BUCKET + "  Inner: {Type: " + inner
                + "}\n  Other: {Type: AWS::S3::Bucket, Properties: {BucketName: heron-other}}\n");
        assertThat(described.reading("bucket-policy", SITE)).isEqualTo("unread");
        assertThat(described.reading("iam-role", ROLE)).isEqualTo("unread");
        assertThat(described.reading("bucket-policy", "arn:aws:s3:::heron-other"))
                .isEqualTo("absent");
        assertThat(described.notes())
                .containsExactly("the " + (inner.contains("MODULE") ? "module" : "stack")
                        + " Inner is described elsewhere, and not read");
    }

    @ParameterizedTest
    @CsvSource({"AWS::CloudFormation::Stack, TemplateURL", "AWS::Serverless::Application, Location"})
    void aStackThatLiesBesideIsRead(String type, String location) throws Exception {
        Described described = Described.template(
                BUCKET + "  Inner: {Type: " + type + ", Properties: {" + location
                        + ": inner.yaml, Parameters: {Bucket: !Ref Site}}}\n"
                        + "  Named: {Type: AWS::S3::Bucket, Properties: {BucketName: !GetAtt Inner.Outputs.Name}}\n",
                Map.of("inner.yaml", """
                        Parameters: {Bucket: {Type: String}}
                        Resources:
                          Open: {Type: AWS::S3::BucketPolicy, Properties: {Bucket: !Ref Bucket, PolicyDocument: {Statement: []}}}
                        Outputs: {Name: {Value: !Sub '${Bucket}-logs'}}
                        """));
        assertThat(described.reading("bucket-policy", SITE)).contains("Statement");
        assertThat(described.buckets()).containsExactly("heron-site", "heron-site-logs");
    }

    // --- loops

    @Test
    void loopsAreWrittenOut() throws Exception {
        Described described = Described.template("""
                Transform: AWS::LanguageExtensions
                Parameters:
                  Ports: {Type: CommaDelimitedList, Default: 'skye,mull-1'}
                Conditions:
                  Fn::ForEach::Made:
                    - Port
                    - [skye]
                    - 'Is${Port}': !Equals [!Sub '${Port}', mull]
                Resources:
                  Fn::ForEach::Buckets:
                    - Port
                    - !Ref Ports
                    - 'Site&{Port}':
                        Type: AWS::S3::Bucket
                        Properties:
                          BucketName: !Sub 'heron-${Port}'
                          Fn::ForEach::Settings:
                            - Setting
                            - [OwnershipControls]
                            - '${Setting}': {Rules: [{ObjectOwnership: ObjectWriter}]}
                      'Policy&{Port}':
                        Type: AWS::S3::BucketPolicy
                        Properties:
                          Bucket: {Ref: 'Site&{Port}'}
                          PolicyDocument:
                            Statement: [{Effect: Allow, Principal: '*', Action: s3:GetObject, Resource: !Sub 'arn:aws:s3:::heron-${Port}/*'}]
                  Fn::ForEach::Outer:
                    - One
                    - [a, b]
                    - Fn::ForEach::Inner:
                        - Two
                        - ['${One}x', y]
                        - 'Log${One}${Two}': {Type: AWS::S3::Bucket, Properties: {BucketName: !Join ['-', [log, !Ref One, !Ref Two]]}}
                  Never: {Type: AWS::S3::Bucket, Condition: Isskye}
                """);
        assertThat(described.buckets())
                .containsExactly("heron-mull-1", "heron-skye", "log-a-ax", "log-a-y", "log-b-bx", "log-b-y");
        assertThat(described.reading("bucket-policy", "arn:aws:s3:::heron-mull-1"))
                .contains("heron-mull-1/*");
        assertThat(described.reading("bucket-ownership", "arn:aws:s3:::heron-skye"))
                .contains("ObjectWriter");
        assertThat(described.notes()).isEmpty();
    }

    @Test
    void aLoopWithoutEndEndsInASentence() throws Exception {
        StringBuilder loops = new StringBuilder("Resources:\n  Site: {Type: AWS::S3::Bucket}\n");
        String indent = "  ";
        for (int i = 0; i < 12; i++) {
            loops.append(indent).append("Fn::ForEach::L").append(i).append(":\n");
            indent += "  ";
            loops.append(indent)
                    .append("- V")
                    .append(i)
                    .append("\n")
                    .append(indent)
                    .append("- [a,b,c,d,e,f,g,h,i,j]\n");
            loops.append(indent).append("-\n");
            indent += "  ";
        }
        loops.append(indent).append("'B${V0}${V1}': {Type: AWS::S3::Bucket}\n");
        assertThat(Described.template(loops.toString()).notes()).anyMatch(note -> note.contains("Fn::ForEach::"));
    }

    // --- JSON

    @Test
    void jsonIsReadAsItsStandardSays() throws Exception {
        String json = "\uFEFF{\n\t\"Resources\": {\n\t\t\"Site\":\t{\n\t\t\t\"Type\": \"AWS::S3::Bucket\",\n"
                + "\t\t\t\"Properties\": {\"BucketName\": \"heron\\u002dsite\", \"AccessControl\": null,\n"
                + "\t\t\t\t\"VersioningConfiguration\": {\"Status\": \"Enabled\"},\n"
                + "\t\t\t\t\"Tags\": [{\"Key\": \"a\\/b\", \"Value\": \"\\ud83d\\ude00 \\\\ yes\"}, {\"Key\": \"n\", \"Value\": 1.50}]}\n\t\t}\n\t}\n}";
        Described described = Described.template(json);
        assertThat(described.reading("bucket-versioning", SITE)).contains("Enabled");
    }

    @Test
    void jsonThatIsBrokenIsRefusedWithItsPlace() {
        assertThatThrownBy(() ->
                        Described.template("{\n  \"Resources\": {\n    \"Site\": {\"Type\": \"AWS::S3::Bucket\"\n"))
                .isInstanceOf(TemplateException.class)
                .hasMessageContaining("site.yaml:");
        assertThatThrownBy(() ->
                        Described.template("{\"Resources\": {\"A\": {\"Type\": \"AWS::S3::Bucket\"},\n \"A\": {}}}"))
                .isInstanceOf(TemplateException.class)
                .hasMessageContaining("site.yaml:2:")
                .hasMessageContaining("second time");
    }

    /** Flow style of the other notation begins with a brace too. */
    @Test
    void braceAtTheBeginningMayBeOfTheOtherNotation() throws Exception {
        assertThat(Described.template(
                                "{Resources: {Site: {Type: AWS::S3::Bucket, Properties: {BucketName: heron-site}}}}")
                        .buckets())
                .containsExactly("heron-site");
    }

    @Test
    void parametersAreGivenInAnyForm() throws Exception {
        String template = """
                Parameters: {Name: {Type: String, Default: heron-usual}}
                Resources: {Site: {Type: AWS::S3::Bucket, Properties: {BucketName: !Ref Name}}}
                """;
        for (String form : new String[] {
            "[{\"ParameterKey\":\"Name\",\"ParameterValue\":\"heron-given\"}]",
            "[\"Name=heron-given\"]",
            "{\"Parameters\":{\"Name\":\"heron-given\"}}",
            "{\"Name\":\"heron-given\"}"
        }) {
            assertThat(Described.template(template, new Source("p.json", form, false))
                            .buckets())
                    .as(form)
                    .containsExactly("heron-given");
        }
        assertThat(Described.template(template).buckets()).containsExactly("heron-usual");
    }

    private static final String RICH = """
            Transform: [AWS::LanguageExtensions]
            Parameters:
              Stage: {Type: String, Default: prod}
              Ports: {Type: CommaDelimitedList, Default: 'a,b'}
            Mappings: {Sites: {prod: {Name: heron}}}
            Conditions:
              IsProd: !And [!Equals [!Ref Stage, prod], !Not [{Condition: Other}]]
              Other: !Or [!Equals [a, b], false]
            Resources:
              Site:
                Type: AWS::S3::Bucket
                Condition: IsProd
                Properties:
                  BucketName: !Join ['-', [!FindInMap [Sites, !Ref Stage, Name], !Select [0, !Split [':', 'a:b']]]]
                  WebsiteConfiguration: {IndexDocument: index.html, RoutingRules: [{RedirectRule: {HostName: x}}]}
                  CorsConfiguration: {CorsRules: [{AllowedMethods: [GET], AllowedOrigins: ['*'], MaxAge: 5}]}
                  LifecycleConfiguration: {Rules: [{Status: Enabled, ExpirationInDays: 3, Prefix: a}]}
                  OwnershipControls: {Rules: [{ObjectOwnership: ObjectWriter}]}
              Policy:
                Type: AWS::S3::BucketPolicy
                Properties: {Bucket: !Ref Site, PolicyDocument: {Statement: [{Effect: Allow, Principal: '*', Action: 's3:*', Resource: !Sub '${Site.Arn}/*'}]}}
              Edge:
                Type: AWS::CloudFront::Distribution
                Properties:
                  DistributionConfig:
                    Enabled: !If [IsProd, true, false]
                    Aliases: [!Sub 'www.${Stage}.example']
                    Origins: [{Id: o, DomainName: !GetAtt Site.RegionalDomainName, S3OriginConfig: {OriginAccessIdentity: ''}}]
                    DefaultCacheBehavior: {TargetOriginId: o, ForwardedValues: {QueryString: false, Cookies: {Forward: none}}}
                    CustomErrorResponses: [{ErrorCode: 404, ResponseCode: 200, ResponsePagePath: /x}]
              Fn::ForEach::Users:
                - Name
                - !Ref Ports
                - 'User${Name}': {Type: AWS::IAM::User, Properties: {UserName: !Ref Name, Groups: [g], Policies: [{PolicyName: p, PolicyDocument: {}}]}}
              Role: {Type: AWS::IAM::Role, Properties: {AssumeRolePolicyDocument: {}, ManagedPolicyArns: [!Ref Managed], Tags: [{Key: a, Value: b}]}}
              Managed: {Type: AWS::IAM::ManagedPolicy, Properties: {Roles: [!Ref Role], PolicyDocument: {'Fn::ToJsonString': {a: 1}}}}
              Joins: {Type: AWS::IAM::UserToGroupAddition, Properties: {GroupName: g, Users: [a]}}
              Inner: {Type: AWS::CloudFormation::Stack, Properties: {TemplateURL: inner.yaml, Parameters: {A: !Ref Site}}}
              Out: {Type: AWS::S3::Bucket, Properties: {BucketName: !GetAtt Inner.Outputs.Name}}
              Part: {Type: A::B::C::MODULE, Properties: {A: [!Ref Site]}}
              Record: {Type: AWS::Route53::RecordSet, Properties: {Name: x, Type: A, HostedZoneId: Z, AliasTarget: {DNSName: !GetAtt Edge.DomainName}}}
            """;

    /** Whatever is cut out of or put into a template, it is read or refused in a sentence. */
    @Test
    void noTemplateBreaksTheReader() {
        String signs = "{}[]!&*:,'-\n $#a0.";
        String[] words = {
            "[]", "{}", "!Ref ", "!Sub ", "!GetAtt ", "null", "Fn::Transform", "- ", "7", "!If [IsProd, ", "Site"
        };
        Random random = new Random(5);
        int read = 0;
        for (int i = 0; i < 20_000; i++) {
            StringBuilder broken = new StringBuilder(RICH);
            for (int n = random.nextInt(4); n >= 0; n--) {
                int at = random.nextInt(broken.length());
                int end = Math.min(broken.length(), at + random.nextInt(9));
                switch (random.nextInt(4)) {
                    case 0 -> broken.setCharAt(at, signs.charAt(random.nextInt(signs.length())));
                    case 1 -> broken.delete(at, end);
                    case 2 -> broken.insert(at, words[random.nextInt(words.length)]);
                    default -> {
                        // A value as a whole, so that most of them are still well-formed.
                        int open = broken.indexOf("[", at);
                        int close = open < 0 ? -1 : broken.indexOf("]", open);
                        if (close > 0) {
                            broken.replace(open, close + 1, words[random.nextInt(words.length)]);
                        }
                    }
                }
            }
            try {
                read += Described.template(broken.toString()).readings().size();
            } catch (TemplateException refused) {
                assertThat(refused.getMessage()).startsWith("site.yaml");
            }
        }
        assertThat(read).isGreaterThan(100_000);
    }
}
