import { Global, Module } from '@nestjs/common';
import { DataSource } from 'typeorm';
import { SETTINGS } from '../foundation/settings';
import { openDatabase } from './database';

/** The one connection. Tables are known here; rows are read and written by the parts that own them. */
@Global()
@Module({ providers: [{ provide: DataSource, inject: [SETTINGS], useFactory: openDatabase }], exports: [DataSource] })
export class DatabaseModule {}
