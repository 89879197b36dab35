terraform {
  required_version = ">= 1.5"
}

variable "stage" {
  type    = string
  default = "prod"
}

variable "ports" {
  default = { skye = "a", mull = "b" }
}

locals {
  name = "heron-${var.stage == "prod" ? "site" : var.stage}"
  tags = merge({ site = local.name }, { for k, v in var.ports : upper(k) => v if v != "" })
}

data "aws_caller_identity" "here" {}

data "aws_iam_policy_document" "read" {
  statement {
    sid       = "Read"
    actions   = ["s3:GetObject"]
    resources = ["${aws_s3_bucket.site.arn}/*"]
    principals {
      type        = "Service"
      identifiers = ["cloudfront.amazonaws.com"]
    }
    condition {
      test     = "StringEquals"
      variable = "AWS:SourceArn"
      values   = [aws_cloudfront_distribution.edge.arn]
    }
  }
}

resource "aws_s3_bucket" "site" {
  bucket = local.name
  tags   = local.tags
  lifecycle_rule {
    enabled = true
    expiration { days = 30 }
  }
}

resource "aws_s3_bucket_policy" "site" {
  bucket = aws_s3_bucket.site.id
  policy = data.aws_iam_policy_document.read.json
}

resource "aws_s3_bucket_public_access_block" "site" {
  bucket                  = aws_s3_bucket.site.id
  block_public_acls       = true
  block_public_policy     = true
  ignore_public_acls      = true
  restrict_public_buckets = true
}

resource "aws_s3_bucket_website_configuration" "site" {
  bucket = aws_s3_bucket.site.bucket
  index_document { suffix = "index.html" }
  routing_rule {
    condition { key_prefix_equals = "old/" }
    redirect { replace_key_prefix_with = "new/" }
  }
}

resource "aws_s3_bucket_acl" "logs" {
  for_each = var.ports
  bucket   = "heron-logs-${each.key}"
  access_control_policy {
    owner { id = "abc" }
    grant {
      permission = "READ"
      grantee {
        type = "Group"
        uri  = "http://acs.amazonaws.com/groups/global/AllUsers"
      }
    }
  }
}

resource "aws_cloudfront_distribution" "edge" {
  enabled             = true
  aliases             = [format("%s.heronferry.example", "www")]
  default_root_object = "index.html"
  origin {
    domain_name = aws_s3_bucket.site.bucket_regional_domain_name
    origin_id   = "site"
  }
  default_cache_behavior {
    target_origin_id       = "site"
    viewer_protocol_policy = "redirect-to-https"
    allowed_methods        = ["GET", "HEAD"]
    cached_methods         = ["GET", "HEAD"]
    dynamic "function_association" {
      for_each = toset(["viewer-request"])
      content {
        event_type   = function_association.value
        function_arn = "arn:aws:cloudfront::${data.aws_caller_identity.here.account_id}:function/x"
      }
    }
  }
  viewer_certificate { cloudfront_default_certificate = true }
}

resource "aws_iam_role" "publisher" {
  count              = 2
  name               = "publisher-${count.index}"
  assume_role_policy = jsonencode({ Version = "2012-10-17", Statement = [{ Effect = "Allow", Action = "sts:AssumeRole", Principal = { Service = "lambda.amazonaws.com" } }] })
}

resource "aws_iam_role_policy" "publish" {
  name   = "publish"
  role   = aws_iam_role.publisher[0].name
  policy = <<-EOT
    {"Version": "2012-10-17", "Statement": [{"Effect": "Allow", "Action": "s3:PutObject", "Resource": "${aws_s3_bucket.site.arn}/*"}]}
  EOT
}

resource "aws_iam_policy_attachment" "more" {
  name       = "more"
  users      = ["editor"]
  policy_arn = "arn:aws:iam::aws:policy/AmazonS3FullAccess"
}

resource "aws_route53_record" "www" {
  zone_id = "Z1"
  name    = "www.heronferry.example"
  type    = "A"
  alias {
    name                   = aws_cloudfront_distribution.edge.domain_name
    zone_id                = aws_cloudfront_distribution.edge.hosted_zone_id
    evaluate_target_health = false
  }
}
