import { NativeScriptConfig } from '@nativescript/core';

export default {
  id: 'com.skerryferries.gangway',
  appPath: 'app',
  appResourcesPath: 'App_Resources',
} as NativeScriptConfig;
