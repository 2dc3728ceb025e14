// The token endpoint that both networks share in form: RFC 6749 section 5, PKCE by RFC 7636.
export interface TokenReply {
  access_token: string;
  token_type: 'Bearer';
  expires_in: number;
  refresh_token: string;
}

export interface TokenError {
  error: 'invalid_request' | 'invalid_client' | 'invalid_grant' | 'unsupported_grant_type';
  error_description: string;
}
